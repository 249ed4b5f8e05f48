import { daysBetween, minor, type CalendarDate, type Minor } from "../shared";
import type { Aged } from "./ageing";

/** How far ahead of a day what falls due is told apart, in days; the last day of each stretch. */
const AHEAD = [7, 14, 30] as const;

/** The names of what `dueAhead` sums, in its order. */
export const DUE_AHEAD: readonly string[] = [
  "Overdue",
  "In 7 days",
  "8 to 14",
  "15 to 30",
  "Later",
];

/**
 * What is left of items by when it falls due, seen from a day: overdue (due before it), within 7
 * days (the day itself included), 8 to 14, 15 to 30, later. Minor units of one currency, exact; the
 * sums add up to what is left of all.
 */
export function dueAhead(items: readonly Aged[], on: CalendarDate): Minor[] {
  const sums = DUE_AHEAD.map(() => 0n);
  for (const item of items) {
    const days = daysBetween(on, item.due);
    const at = AHEAD.findIndex((last) => days <= last);
    const place = days < 0 ? 0 : at < 0 ? AHEAD.length + 1 : at + 1;
    sums[place] = sums[place]! + item.left;
  }
  return sums.map(minor);
}

/** A part of an item that was settled: when it was due, when it was settled, how much. */
export interface SettledPart {
  due: CalendarDate;
  on: CalendarDate;
  amount: Minor;
}

/**
 * How late items were settled: the mean of days after the due date, weighted by the amount settled
 * (early settlement counts as negative days), rounded half away from zero to whole days; and how
 * much of the amount was settled after its due date, in whole per cent rounded down. Null where
 * nothing was settled. Amounts in minor units of one currency; their signs do not matter.
 */
export function lateness(
  parts: readonly SettledPart[],
): { days: number; latePercent: number } | null {
  let weight = 0n;
  let weighted = 0n;
  let late = 0n;
  for (const part of parts) {
    const amount = part.amount < 0n ? -part.amount : part.amount;
    const days = BigInt(daysBetween(part.due, part.on));
    weight += amount;
    weighted += amount * days;
    if (days > 0n) late += amount;
  }
  if (weight === 0n) return null;
  const doubled = 2n * (weighted < 0n ? -weighted : weighted);
  const days = Number((doubled + weight) / (2n * weight));
  return {
    days: weighted < 0n && days !== 0 ? -days : days,
    latePercent: Number((late * 100n) / weight),
  };
}
