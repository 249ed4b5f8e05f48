import { array, boolean, number, object, string, type InferType } from "yup";
import Decimal from "decimal.js";
import {
  addDays,
  addMonths,
  endOfMonth,
  minor,
  split,
  type CalendarDate,
  type Minor,
} from "../shared";

const days = () => number().integer().min(0, "Days are not negative").max(3650);
/**
 * When a supplier or customer pays: instalments of the whole, each due some days after the invoice
 * or the end of its month; and discounts for paying early.
 */
export const termsSchema = object({
  instalments: array(
    object({
      /** Per cent of the whole, as a decimal. All together are 100. */
      percent: string()
        .default("100")
        .matches(/^\d{1,3}(\.\d{1,4})?$/, "Write per cent like 33.33"),
      days: days().default(30),
      /** Counted from the end of the invoice's month. */
      endOfMonth: boolean().default(false),
      /** Months that are added before the days are. */
      months: number().integer().min(0).max(24).default(0),
    }),
  )
    .min(1, "At least one instalment is needed")
    .max(24)
    .default([{ percent: "100", days: 30, endOfMonth: false, months: 0 }]),
  discounts: array(
    object({
      percent: string()
        .default("2")
        .matches(/^\d{1,2}(\.\d{1,4})?$/, "Write per cent like 2.5"),
      days: days().default(10),
    }),
  )
    .max(5)
    .default([]),
}).test("whole", "The instalments do not add up to 100 per cent", (t) =>
  new Decimal(0)
    .plus(t.instalments.reduce((sum, i) => sum.plus(i.percent), new Decimal(0)))
    .equals(100),
);
export type Terms = InferType<typeof termsSchema>;

export interface Instalment {
  due: CalendarDate;
  amount: Minor;
  /**
   * Discounts that can be earned, the earliest day first: the last day on which it can, and the
   * discount in minor units.
   */
  discounts: { until: CalendarDate; amount: Minor; percent: string }[];
}

/**
 * The instalments of an invoice by its terms.
 * Units: `gross` and `discountable` in minor units, signed alike for invoices and credit notes; the
 * discountable part is what a discount is computed on.
 * Rounding: instalments by largest remainder, so that they add up to the whole; each discount half
 * away from zero.
 */
export function instalmentsOf(
  terms: Terms,
  date: CalendarDate,
  gross: Minor,
  discountable: Minor = gross,
): Instalment[] {
  const weights = terms.instalments.map((i) =>
    BigInt(new Decimal(i.percent).mul(10_000).toFixed(0)),
  );
  const parts = split(gross, weights);
  const bases = split(discountable, weights);
  return terms.instalments
    .map((i, n): Instalment => ({
      due: dueDate(date, i),
      amount: parts[n]!,
      discounts: terms.discounts
        .map((d) => ({
          until: addDays(date, d.days),
          percent: d.percent,
          amount: percentOf(bases[n]!, d.percent),
        }))
        .sort((a, b) => (a.until < b.until ? -1 : 1)),
    }))
    .sort((a, b) => (a.due < b.due ? -1 : a.due > b.due ? 1 : 0));
}

function dueDate(date: CalendarDate, i: Terms["instalments"][number]): CalendarDate {
  const from = i.endOfMonth
    ? endOfMonth(i.months > 0 ? addMonths(`${date.slice(0, 7)}-01`, i.months) : date)
    : i.months > 0
      ? addMonths(date, i.months)
      : date;
  return addDays(from, i.days);
}

/** A percentage of an amount. Rounding: half away from zero, to the minor unit. */
export const percentOf = (amount: Minor, percent: string): Minor =>
  minor(
    BigInt(
      new Decimal(amount.toString())
        .mul(percent)
        .div(100)
        .toDecimalPlaces(0, Decimal.ROUND_HALF_UP)
        .toFixed(0),
    ),
  );
