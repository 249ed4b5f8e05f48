import Decimal from "decimal.js";
import { minor, type CalendarDate, type Minor } from "../shared";
import type { TaxCode } from "./taxCode";

export interface TaxRateOn {
  percent: string;
  from: CalendarDate;
}

/** The rate that holds on a day: the newest that began by then. Null where none had begun. */
export const rateOn = (code: TaxCode, date: CalendarDate): TaxRateOn | null =>
  code.rates.filter((r) => r.from <= date).sort((a, b) => (a.from < b.from ? 1 : -1))[0] ?? null;

/** Whether tax is rounded on each line or once for all lines of a code. */
export const TAX_ROUNDINGS = ["line", "total"] as const;
export type TaxRounding = (typeof TAX_ROUNDINGS)[number];

export interface TaxedLine {
  /**
   * Tax on the line and the part of it that can be recovered, in minor units with the sign of its
   * net.
   */
  tax: Minor;
  recoverable: Minor;
}

const share = (amount: bigint, percent: string): bigint =>
  BigInt(
    new Decimal(amount.toString())
      .mul(percent)
      .div(100)
      .toDecimalPlaces(0, Decimal.ROUND_HALF_UP)
      .toFixed(0),
  );

/**
 * The tax of lines of one code.
 * Units: nets in minor units, signed; percentages as decimals.
 * Rounding: half away from zero, on each line; or once for all of them, and then the largest line
 * carries the difference, so that the lines add up to the whole either way. The recoverable part
 * likewise follows the tax of its line.
 */
export function taxOf(
  nets: readonly Minor[],
  percent: string,
  recoverable: string,
  rounding: TaxRounding,
): TaxedLine[] {
  const taxes = nets.map((n) => share(n, percent));
  if (rounding === "total" && nets.length > 0) {
    const whole = share(
      nets.reduce((a, b) => a + b, 0n),
      percent,
    );
    const largest = nets.reduce((best, n, i) => (size(n) > size(nets[best]!) ? i : best), 0);
    taxes[largest] = taxes[largest]! + whole - taxes.reduce((a, b) => a + b, 0n);
  }
  return taxes.map((tax) => ({ tax: minor(tax), recoverable: recoverableOf(tax, recoverable) }));
}

/**
 * What of a tax that is charged can be recovered, however the tax was computed. Rounding: half away
 * from zero, so that it is never more than the tax.
 */
export const recoverableOf = (tax: bigint, percent: string): Minor => minor(share(tax, percent));

const size = (n: bigint): bigint => (n < 0n ? -n : n);
