import {
  addDays,
  daysBetween,
  minor,
  proportion,
  type CalendarDate,
  type Minor,
} from "../../shared";

/** The yearly rate of interest on what is paid late, from a day on. */
export interface LateRate {
  from: CalendarDate;
  /** Per cent a year, a decimal: "10.15". */
  percent: string;
}

/** Rates have at most so many decimals. */
const DECIMALS = 4;

/**
 * Simple interest on what was not paid by its day, as Directive 2011/7/EU means it: actual days over
 * 365, each at the rate of its day, rounded once, half away from zero. It begins on the day after
 * `since` and has `to` in it. Amounts in minor units of one currency. Null where a day has no rate.
 *
 * @example lateInterest(100000n, "2026-01-01", "2026-01-31", [{ from: "2026-01-01", percent: "10" }]) // 822n
 */
export function lateInterest(
  amount: Minor,
  since: CalendarDate,
  to: CalendarDate,
  rates: readonly LateRate[],
): Minor | null {
  const days = daysBetween(since, to);
  if (days <= 0) return minor(0n);
  const sorted = [...rates].sort((a, b) => (a.from < b.from ? -1 : 1));
  // Of each rate the days from its first to the eve of the next one's, as far as they are asked for.
  const parts = sorted.map((rate, i) => {
    const next = sorted[i + 1];
    const eve = addDays(rate.from, -1);
    const begins = eve > since ? eve : since;
    const ends = next && next.from <= to ? addDays(next.from, -1) : to;
    return { days: Math.max(0, daysBetween(begins, ends)), percent: scaled(rate.percent) };
  });
  if (parts.reduce((n, p) => n + p.days, 0) < days) return null;
  const weighed = parts.reduce((n, p) => n + BigInt(p.days) * p.percent, 0n);
  return proportion(amount, weighed, 365n * 100n * 10n ** BigInt(DECIMALS));
}

function scaled(percent: string): bigint {
  const [whole = "0", part = ""] = percent.split(".");
  return BigInt(whole + part.padEnd(DECIMALS, "0").slice(0, DECIMALS));
}
