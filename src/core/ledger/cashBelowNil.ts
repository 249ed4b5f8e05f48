import type { CalendarDate, Minor } from "../shared";

/** What moves in a cash box on a day, in minor units of its currency: money put in is positive. */
export interface CashDay {
  date: CalendarDate;
  amount: Minor;
}

/**
 * The first day on which a cash box would hold less than nothing because of what is added: nobody
 * takes out what is not in it. A box that was below nil already is not refused what puts money in.
 * `before` is what it held before the first day of `there` and `added`; days in any order.
 */
export function cashBelowNil(
  before: Minor,
  there: readonly CashDay[],
  added: readonly CashDay[],
): { date: CalendarDate; holds: bigint } | null {
  const sumsOf = (days: readonly CashDay[]) => {
    const sums = new Map<CalendarDate, bigint>();
    for (const d of days) sums.set(d.date, (sums.get(d.date) ?? 0n) + d.amount);
    return sums;
  };
  const [old, more] = [sumsOf(there), sumsOf(added)];
  let [held, change] = [before as bigint, 0n];
  for (const date of [...new Set([...old.keys(), ...more.keys()])].sort()) {
    held += old.get(date) ?? 0n;
    change += more.get(date) ?? 0n;
    if (change < 0n && held + change < 0n) return { date, holds: held + change };
  }
  return null;
}
