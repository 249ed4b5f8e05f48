import { object, string, type InferType } from "yup";

/** What a customer may owe, in minor units of a currency; null where nothing is set. */
export interface CreditLimit {
  amount: bigint | null;
  currency: string;
}

/**
 * Whether a change lets a customer owe more than before, or nobody can tell: a higher limit, none
 * any more, one in another currency. A first limit, or a lower one, only takes away.
 */
export const letsOweMore = (before: CreditLimit, after: CreditLimit): boolean =>
  before.amount !== null &&
  (after.amount === null || after.currency !== before.currency || after.amount > before.amount);

/** What somebody asks for a customer. */
export const creditRequestSchema = object({
  partner: string().trim().required("Say for which customer").max(60),
  /** In the currency; "" for no limit at all. */
  limit: string().trim().max(40).default(""),
  currency: string().trim().uppercase().required("A currency is needed").length(3),
  reason: string().trim().required("Say why").max(500),
});
export type CreditRequestInput = InferType<typeof creditRequestSchema>;

export const CREDIT_OUTCOMES = ["granted", "refused"] as const;
export type CreditOutcome = (typeof CREDIT_OUTCOMES)[number];
