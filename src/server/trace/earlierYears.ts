import type { TraceSpan } from "@/core/trace";
import type { ReportPlace } from "../ledger";

/**
 * All that was posted in the years before one: what its opening balances are made of, closings
 * included.
 */
export const earlierYears = (place: ReportPlace, yearId: number): TraceSpan[] => {
  const start = place.years.find((y) => y.id === yearId)!.start;
  return place.years
    .filter((y) => y.start < start)
    .map((y) => ({ yearId: y.id, from: 1, to: 99, withClosing: true }));
};
