import Decimal from "decimal.js";
import { DEFAULT_FORMAT, exponentOf, minor, plainFigure, type Minor } from "../shared";

const Exact = Decimal.clone({ precision: 60 });

/**
 * An amount in another currency at a rate. Units: minor units of each currency; `rate` is units of
 * `to` for one unit of `from`.
 * Rounding: half away from zero to the minor unit of `to`, once (the commercial rule of invoices
 * and of IAS 21's spot translation).
 * @example convert(minor(10_000n), "ISK", "EUR", "0.0066") // 6600n: ISK 10,000 are EUR 66.00
 */
export function convert(amount: Minor, from: string, to: string, rate: string): Minor {
  const scaled = new Exact(amount.toString())
    .mul(rate)
    .mul(new Exact(10).pow(exponentOf(to) - exponentOf(from)));
  return minor(BigInt(scaled.toDecimalPlaces(0, Decimal.ROUND_HALF_UP).toFixed()));
}

/**
 * Reads a rate as typed: a positive decimal of at most twelve figures before and after the point.
 * Null where it is none.
 */
export function readRate(text: string): string | null {
  const written = text.trim();
  // A single comma is decimal: rates of a thousand and more are written with a point or none.
  const body = /^\d{1,12},\d{1,12}$/.test(written)
    ? written.replace(",", ".")
    : plainFigure(written, DEFAULT_FORMAT);
  if (body === null || !/^\d{1,12}(\.\d{1,12})?$/.test(body)) return null;
  const value = new Exact(body);
  return value.isZero() ? null : value.toFixed();
}

/** One divided by a rate, to twelve significant figures. */
export const inverseRate = (rate: string): string =>
  new Exact(1).div(rate).toSignificantDigits(12, Decimal.ROUND_HALF_EVEN).toFixed();

/**
 * The rate that two amounts imply, to twelve significant figures; null where the foreign amount is
 * zero.
 */
export function impliedRate(
  foreign: Minor,
  from: string,
  functional: Minor,
  to: string,
): string | null {
  if (foreign === 0n) return null;
  return new Exact(functional.toString())
    .div(foreign.toString())
    .mul(new Exact(10).pow(exponentOf(from) - exponentOf(to)))
    .abs()
    .toSignificantDigits(12, Decimal.ROUND_HALF_EVEN)
    .toFixed();
}
