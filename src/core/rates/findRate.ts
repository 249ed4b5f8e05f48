import Decimal from "decimal.js";
import { dateText, daysBetween, type CalendarDate } from "../shared";
import type { FoundRate, Rate, RateKind } from "./types";

/**
 * Computed rates are kept to this many significant figures: enough that a cross rate moves no cent
 * on any amount a line may hold in practice.
 */
const FIGURES = 12;
/** A rate serves for as many days as its pair allows. */
const isTooOld = (r: Rate, on: CalendarDate): boolean =>
  r.maxAge !== undefined && daysBetween(r.date, on) > r.maxAge;
const Exact = Decimal.clone({ precision: 40 });

/**
 * The rate from one currency to another on a day: as listed, else the inverse of the opposite pair,
 * else across a third currency.
 * Where the day has none, the last earlier one is taken and said. Units: one unit of `from` in
 * units of `to`.
 * Rounding: half even to twelve significant figures, once, at the end. Null where no way leads from
 * one to the other.
 * Rule: triangular arbitrage, A/C = A/B × B/C. Among several ways the shorter wins, then the one
 * whose older leg is younger, then the currency's code.
 */
export function findRate(
  rates: readonly Rate[],
  kind: RateKind,
  from: string,
  to: string,
  on: CalendarDate,
): FoundRate | null {
  if (from === to) return { rate: "1", date: on, how: "the same currency" };
  const newest = new Map<string, Rate>();
  for (const r of rates) {
    if (r.kind !== kind || r.date > on || isTooOld(r, on)) continue;
    const key = `${r.base}/${r.quote}`;
    if (!newest.has(key) || newest.get(key)!.date < r.date) newest.set(key, r);
  }
  const leg = (
    a: string,
    b: string,
  ): { value: Decimal; date: CalendarDate; words: string } | null => {
    const straight = newest.get(`${a}/${b}`);
    const inverse = newest.get(`${b}/${a}`);
    if (straight && (!inverse || inverse.date <= straight.date))
      return { value: new Exact(straight.rate), date: straight.date, words: `${a}/${b}` };
    return inverse
      ? { value: new Exact(1).div(inverse.rate), date: inverse.date, words: `inverse of ${b}/${a}` }
      : null;
  };
  const stale = (date: CalendarDate) => (date === on ? "" : `, last known on ${dateText(date)}`);
  const direct = leg(from, to);
  if (direct)
    return {
      rate: direct.value.toSignificantDigits(FIGURES, Decimal.ROUND_HALF_EVEN).toFixed(),
      date: direct.date,
      how: `${kind} ${direct.words}${stale(direct.date)}`,
    };
  const others = [...new Set([...newest.values()].flatMap((r) => [r.base, r.quote]))]
    .filter((c) => c !== from && c !== to)
    .sort();
  let best: FoundRate | null = null;
  for (const third of others) {
    const first = leg(from, third);
    const second = leg(third, to);
    if (!first || !second) continue;
    const date = first.date < second.date ? first.date : second.date;
    if (best && best.date >= date) continue;
    best = {
      rate: first.value
        .mul(second.value)
        .toSignificantDigits(FIGURES, Decimal.ROUND_HALF_EVEN)
        .toFixed(),
      date,
      how: `${kind} across ${third}: ${first.words} × ${second.words}${stale(date)}`,
    };
  }
  return best;
}
