import type { CalendarDate, Found, Minor } from "../shared";
import { dateText, daysBetween } from "../shared";
import { convert } from "./convert";
import { findRate } from "./findRate";
import type { Rate, RateKind } from "./types";

/**
 * How amounts of one currency become another's: they are the same already, or there is a rate. That
 * no rate is known is neither of the two: it is the absence of a conversion, and no amount comes out
 * of it.
 */
export type Conversion = "same" | { rate: string };

export const conversionOf = (from: string, to: string, rate: string | null): Conversion | null =>
  from === to ? "same" : rate === null ? null : { rate };

/** The conversion on a day; null where no rate is known that is young enough. */
export const conversionOn = (
  rates: readonly Rate[],
  kind: RateKind,
  from: string,
  to: string,
  on: CalendarDate,
): Conversion | null =>
  conversionOf(from, to, from === to ? null : (findRate(rates, kind, from, to, on)?.rate ?? null));

/** An amount converted. Units and rounding as `convert`. */
export const convertBy = (amount: Minor, from: string, to: string, by: Conversion): Minor =>
  by === "same" ? amount : convert(amount, from, to, by.rate);

/**
 * Why no rate is found: none was ever loaded, or the newest is older than rates of its pair may be.
 */
export function rateProblem(
  rates: readonly Rate[],
  kind: RateKind,
  from: string,
  to: string,
  on: CalendarDate,
  /** Whether a rate that is typed would not do either. */
  refused = false,
): Found {
  const old = findRate(
    rates.map(({ maxAge: _maxAge, ...r }) => r),
    kind,
    from,
    to,
    on,
  );
  return old
    ? {
        code: "RATE_OLD",
        from,
        to,
        date: dateText(old.date),
        age: daysBetween(old.date, on),
        on: dateText(on),
        refused,
      }
    : { code: "RATE_MISSING", from, to, kind, date: dateText(on), refused };
}
