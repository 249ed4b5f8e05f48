import type { ChartSet } from "@/server/organisation";
import { ferryChart } from "./ferryChart";
import { ferryOutlines } from "./ferryOutlines";

/** What the ferry companies keep their books by. Cost centres are required there. */
export const FERRY: ChartSet = {
  chart: ferryChart(),
  outlines: ferryOutlines(),
  costCentre: "required",
};

/** The bases on which they keep them; the first is the one that is seen by default. */
export const FERRY_BOOKS = [
  { code: "IFRS", name: "IFRS" },
  { code: "LOCAL", name: "Local GAAP" },
  { code: "TAX", name: "Tax" },
];
