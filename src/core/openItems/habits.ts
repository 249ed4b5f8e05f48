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

/** A quarter of a year with how late it paid in it: days, null where nothing was paid. */
export interface QuarterOfHabit {
  /** 2026-Q3. */
  quarter: string;
  days: number | null;
}

/**
 * How late invoices were settled by calendar quarter, the oldest first, up to and with the quarter of
 * `on`: whole days weighted by amount, as `lateness` rounds them; before the due date below nothing.
 */
export function latenessByQuarter(
  parts: readonly SettledPart[],
  on: CalendarDate,
  quarters: number,
): QuarterOfHabit[] {
  const of = (day: CalendarDate) => Number(day.slice(0, 4)) * 4 + quarterOf(day) - 1;
  return Array.from({ length: quarters }, (_, n) => {
    const at = of(on) - quarters + 1 + n;
    const own = parts.filter((p) => p.on <= on && of(p.on) === at);
    return {
      quarter: `${Math.floor(at / 4)}-Q${(at % 4) + 1}`,
      days: lateness(own)?.days ?? null,
    };
  });
}

const quarterOf = (day: CalendarDate): number => Math.ceil(Number(day.slice(5, 7)) / 3);
