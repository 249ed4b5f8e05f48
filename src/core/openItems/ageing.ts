import { addDays, daysBetween, minor, type CalendarDate, type Minor } from "../shared";

/**
 * Last days overdue of each bucket; what is not yet due stands before them, and what is older
 * after.
 */
export const DEFAULT_BUCKETS: readonly number[] = [30, 60, 90];

/** What the age of an item is counted from: the day it is due, or that of its document. */
export const AGED_FROM = ["due", "document"] as const;
export type AgedFrom = (typeof AGED_FROM)[number];

/**
 * The names of the columns for these buckets: "not due", "1 to 30", …, "over 90"; counted from the
 * document, nothing is due or not, and the first is that of the day itself.
 */
export const bucketNames = (buckets: readonly number[], from: AgedFrom = "due"): string[] => [
  from === "due" ? "not due" : "that day",
  ...buckets.map((last, i) => `${(buckets[i - 1] ?? 0) + 1} to ${last}`),
  `over ${buckets.at(-1) ?? 0}`,
];

/**
 * The column of an item: 0 where it is not due on the day, else by the days that have passed since
 * it was. An item is due on its due date and overdue from the day after.
 */
export function bucketOf(due: CalendarDate, on: CalendarDate, buckets: readonly number[]): number {
  const late = daysBetween(due, on);
  if (late <= 0) return 0;
  const at = buckets.findIndex((last) => late <= last);
  return at < 0 ? buckets.length + 1 : at + 1;
}

/**
 * The due dates of a bucket on a day, first and last; null where it has no end. The inverse of
 * `bucketOf`.
 */
export function dueDatesOf(
  bucket: number,
  on: CalendarDate,
  buckets: readonly number[],
): { from: CalendarDate | null; to: CalendarDate | null } {
  const oldest = buckets[bucket - 1];
  return {
    from: bucket === 0 ? on : oldest === undefined ? null : addDays(on, -oldest),
    to: bucket === 0 ? null : addDays(on, -((buckets[bucket - 2] ?? 0) + 1)),
  };
}

export interface Aged {
  due: CalendarDate;
  left: Minor;
}

/** Sums of what is left by age. Minor units of one currency, exact. */
export function age(
  items: readonly Aged[],
  on: CalendarDate,
  buckets: readonly number[] = DEFAULT_BUCKETS,
): Minor[] {
  const sums = Array.from({ length: buckets.length + 2 }, () => 0n);
  for (const item of items) {
    const at = bucketOf(item.due, on, buckets);
    sums[at] = sums[at]! + item.left;
  }
  return sums.map(minor);
}
