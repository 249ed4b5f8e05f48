import { number, object, string, type InferType } from "yup";
import type { ItemDiscount } from "../ledger";
import { addDays } from "../shared";

/** What becomes of a discount that a customer takes after its date. */
export const LATE_DISCOUNTS = ["allow", "ask", "leave open"] as const;
export type LateDiscount = (typeof LATE_DISCOUNTS)[number];
export const LATE_DISCOUNT_NAMES: Readonly<Record<LateDiscount, string>> = {
  allow: "allowed as if in time",
  ask: "proposed, and a person decides",
  "leave open": "stays open",
};

/** What is let pass of customers of a group when they pay. */
export const paymentToleranceSchema = object({
  late: string().oneOf(LATE_DISCOUNTS).default("ask"),
  /** Days after the date of a discount within which `late` says what becomes of it. */
  lateDays: number()
    .integer("Days are whole")
    .min(0, "Days are not negative")
    .max(60, "At most 60 days")
    .default(10),
  /** What may be missing without being asked for again, in the company's currency. */
  small: string()
    .trim()
    .matches(/^\d{1,6}(\.\d{1,3})?$/, "Write an amount like 5 or 2.50")
    .default("0"),
});
export type PaymentTolerance = InferType<typeof paymentToleranceSchema>;

/** What holds where nothing has been set: a person looks at what is late, nothing is small. */
export const usualTolerance = (): PaymentTolerance => paymentToleranceSchema.cast({});

/** A discount as it may be had by a tolerance: until a later day, there only if a person agrees. */
export interface ToleratedDiscount extends ItemDiscount {
  /** The last day on which it is had without anybody being asked. */
  agreedUntil: string;
}

/**
 * The discounts of an item with the days that a tolerance gives: what is allowed late is agreed for
 * so many days more, what is asked about can be proposed for as long.
 *
 * @example tolerated([{ until: "2026-03-10", … }], { late: "allow", lateDays: 3, … })
 * // until and agreedUntil 2026-03-13
 */
export const tolerated = (
  discounts: readonly ItemDiscount[],
  { late, lateDays }: Pick<PaymentTolerance, "late" | "lateDays">,
): ToleratedDiscount[] =>
  discounts.map((d) => {
    const later = late === "leave open" ? d.until : addDays(d.until, lateDays);
    return { ...d, until: later, agreedUntil: late === "allow" ? later : d.until };
  });

/** The discounts that are had without anybody being asked, each until the last day for that. */
export const agreedDiscounts = (discounts: readonly ToleratedDiscount[]): ItemDiscount[] =>
  discounts.map(({ agreedUntil, ...d }) => ({ ...d, until: agreedUntil }));
