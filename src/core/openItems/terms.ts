import { array, boolean, number, object, string, type InferType } from "yup";
import Decimal from "decimal.js";
import {
  addDays,
  addMonths,
  endOfMonth,
  minor,
  split,
  weightsOf,
  type CalendarDate,
  type Minor,
} from "../shared";

const days = () => number().integer().min(0, "Days are not negative").max(3650);
/** Where days are counted from, and on which day of a month what comes out of it falls. */
const counted = {
  days: days().default(30),
  /** Counted from the day of supply, and not of the invoice. */
  fromDelivery: boolean().default(false),
  /** Counted from the end of that day's month. */
  endOfMonth: boolean().default(false),
  /** Months that are added before the days are. */
  months: number().integer().min(0).max(24).default(0),
  /**
   * The day of the month on or after what was counted; 31 for its last day, 0 for the day itself.
   */
  dayOfMonth: number()
    .integer()
    .min(0, "A day of the month")
    .max(31, "A day of the month")
    .default(0),
};
export const TERMS_BY = ["per cent", "weights"] as const;

/**
 * When a supplier or customer pays: instalments of the whole, each due some days after the invoice
 * or the supply, or the end of its month; and discounts for paying early.
 */
export const termsSchema = object({
  /** Instalments are per cent of the whole, or parts in proportion to weights: 1, 1, 1 for thirds. */
  by: string().oneOf(TERMS_BY).default("per cent"),
  instalments: array(
    object({
      /** Per cent of the whole, or a weight, as a decimal. Per cent are 100 together. */
      percent: string()
        .default("100")
        .matches(/^\d{1,3}(\.\d{1,4})?$/, "Write per cent like 33.33"),
      ...counted,
    }),
  )
    .min(1, "At least one instalment is needed")
    .max(24)
    .default([
      {
        percent: "100",
        days: 30,
        fromDelivery: false,
        endOfMonth: false,
        months: 0,
        dayOfMonth: 0,
      },
    ]),
  discounts: array(
    object({
      percent: string()
        .default("2")
        .matches(/^\d{1,2}(\.\d{1,4})?$/, "Write per cent like 2.5"),
      ...counted,
      days: days().default(10),
    }),
  )
    .max(5)
    .default([]),
}).test("whole", "The instalments do not add up to 100 per cent", (t) => {
  const sum = t.instalments.reduce((whole, i) => whole.plus(i.percent), new Decimal(0));
  return t.by === "weights" ? sum.greaterThan(0) : sum.equals(100);
});
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
 * A due date that the paper names stands for all instalments; what is earned by paying early stays.
 * What counts from the supply counts from the day of the invoice where `delivered` is not known.
 * Rounding: instalments by largest remainder, so that they add up to the whole; each discount half
 * away from zero.
 */
export function instalmentsOf(
  terms: Terms,
  date: CalendarDate,
  gross: Minor,
  {
    discountable = gross,
    due,
    delivered = date,
  }: { discountable?: Minor; due?: CalendarDate | undefined; delivered?: CalendarDate } = {},
): Instalment[] {
  const dayOf = (c: Counted) => countedFrom(c.fromDelivery ? delivered : date, c);
  const weights = due ? [1n] : weightsOf(terms.instalments.map((i) => i.percent));
  const parts = split(gross, weights);
  const bases = split(discountable, weights);
  return parts
    .map((amount, n): Instalment => ({
      due: due ?? dayOf(terms.instalments[n]!),
      amount,
      discounts: terms.discounts
        .map((d) => ({
          until: dayOf(d),
          percent: d.percent,
          amount: percentOf(bases[n]!, d.percent),
        }))
        .sort((a, b) => (a.until < b.until ? -1 : 1)),
    }))
    .sort((a, b) => (a.due < b.due ? -1 : a.due > b.due ? 1 : 0));
}

/** Whether something of it counts from the day of supply. */
export const countsFromDelivery = ({ instalments, discounts }: Terms): boolean =>
  [...instalments, ...discounts].some((c) => c.fromDelivery);

type Counted = Omit<Terms["instalments"][number], "percent">;

/** Months first, then the end of the month, then days, then the day of the month on or after it. */
function countedFrom(date: CalendarDate, c: Counted): CalendarDate {
  const later =
    c.months > 0 ? addMonths(c.endOfMonth ? `${date.slice(0, 7)}-01` : date, c.months) : date;
  const counted = addDays(c.endOfMonth ? endOfMonth(later) : later, c.days);
  return !c.dayOfMonth ? counted : onDayOfMonth(counted, c.dayOfMonth);
}

/** The next day of that number on or after a day; in a shorter month, its last day. */
function onDayOfMonth(date: CalendarDate, day: number): CalendarDate {
  const inMonth = (month: CalendarDate): CalendarDate => {
    const end = endOfMonth(month);
    const wanted = `${end.slice(0, 8)}${String(day).padStart(2, "0")}`;
    return wanted < end ? wanted : end;
  };
  const own = inMonth(date);
  return own >= date ? own : inMonth(addMonths(`${date.slice(0, 7)}-01`, 1));
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
