import { number, object, string, type InferType } from "yup";
import { dayField } from "../../shared";

export const DISPUTE_REASONS = [
  "price",
  "quantity",
  "quality",
  "not ordered",
  "paid already",
  "paper missing",
  "tax",
  "other",
] as const;
export const DISPUTE_OUTCOMES = ["credited", "upheld", "part"] as const;
export type DisputeOutcome = (typeof DISPUTE_OUTCOMES)[number];

/** That an item, or part of it, is in dispute. */
export const disputeSchema = object({
  item: number().integer().required(),
  /** A decimal of the item's currency; "" for all that is left of it. */
  amount: string().trim().max(40).default(""),
  reason: string().oneOf(DISPUTE_REASONS).required("Say what is disputed"),
  note: string().trim().max(500).default(""),
  /** Who looks into it: a sign-in name. */
  owner: string().trim().max(60).default(""),
  /** By when. */
  by: dayField(),
});
export type DisputeInput = InferType<typeof disputeSchema>;
