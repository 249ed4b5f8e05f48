import type { ChartSet } from "@/server/organisation";
import { ferryChart } from "./ferryChart";
import { ferryOutlines } from "./ferryOutlines";

/** What the ferry companies keep their books by. Cost centres are required there. */
export const FERRY: ChartSet = {
  chart: ferryChart(),
  outlines: ferryOutlines(),
  costCentre: "required",
};
