import Decimal from "decimal.js";
import { array, object, string, type InferType } from "yup";
import { dayField, exponentOf, type CalendarDate } from "../../shared";

const figure = (what: string) =>
  string()
    .trim()
    .required(`${what} is missing`)
    .matches(/^\d{1,6}(\.\d{1,4})?$/, `${what} is a figure like 112.4`);

/** An index of prices: what it stands at from each day on. */
export const priceIndexSchema = object({
  code: string()
    .trim()
    .uppercase()
    .required("A code is needed")
    .matches(/^[A-Z0-9-]{1,20}$/, "A code has capitals, figures and dashes"),
  name: string().trim().required("A name is needed").max(80),
  values: array(
    object({ from: dayField().required("The day is missing"), value: figure("What it stands at") }),
  )
    .min(1, "At least one day is needed")
    .max(600)
    .required()
    .test("once", "A day stands there once", (all) => {
      const days = (all ?? []).map((v) => v.from);
      return new Set(days).size === days.length;
    }),
});
export type PriceIndex = InferType<typeof priceIndexSchema>;

/** The clause of an agreement by which its prices follow an index. */
export const indexClauseSchema = object({
  /** The code of the index; "" where prices stay as they are agreed. */
  index: string().trim().uppercase().max(20).default(""),
  /** What it stood at when the prices were agreed. */
  base: string().trim().max(12).default(""),
  /** Per cent by which it has to have moved before prices follow. */
  least: string()
    .trim()
    .default("0")
    .matches(/^\d{1,2}(\.\d{1,2})?$/, "Write per cents like 2 or 2.5"),
});
export type IndexClause = InferType<typeof indexClauseSchema>;

/** How prices have moved by a clause. */
export interface IndexMove {
  /** What the index stands at, and since when. */
  value: string;
  since: CalendarDate;
  /** Per cent since the prices were agreed, two places, half away from zero. */
  percent: string;
  /** Whether that is enough for prices to follow. */
  follows: boolean;
}

/** What an index stands at on a day: its newest value that holds by then; null before the first. */
export function indexOn(
  values: PriceIndex["values"],
  day: CalendarDate,
): { value: string; since: CalendarDate } | null {
  let found: { value: string; since: CalendarDate } | null = null;
  for (const { from, value } of values)
    if (from && from <= day && (!found || from > found.since)) found = { value, since: from };
  return found;
}

/**
 * How far an index has moved from the base of a clause by a day; null where it has no value by
 * then.
 */
export function indexMove(
  clause: IndexClause,
  values: PriceIndex["values"],
  day: CalendarDate,
): IndexMove | null {
  const now = indexOn(values, day);
  if (!now) return null;
  const moved = new Decimal(now.value).div(clause.base).minus(1).mul(100);
  return {
    ...now,
    percent: moved.toFixed(2, Decimal.ROUND_HALF_UP),
    follows: moved.abs().gte(clause.least) && !moved.isZero(),
  };
}

/**
 * A price that follows an index: by as much as the index has moved from its base.
 * Rounding: half away from zero, to the decimals of the price or of its currency, whichever are more.
 *
 * @example indexedPrice("250.00", "104", "100", "EUR") // "260.00"
 */
export function indexedPrice(price: string, value: string, base: string, currency: string): string {
  const written = price.replaceAll(",", "").trim();
  const places = Math.max(exponentOf(currency), (written.split(".")[1] ?? "").length);
  return new Decimal(written).mul(value).div(base).toFixed(places, Decimal.ROUND_HALF_UP);
}
