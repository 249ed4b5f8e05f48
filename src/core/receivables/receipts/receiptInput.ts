import { array, number, object, string, type InferType } from "yup";
import { dayField } from "../../shared";
import { DISPUTE_REASONS } from "../desk/dispute";

/** What becomes of the part of an item that a payer did not pay. */
export const SHORT_OUTCOMES = ["open", "disputed", "written off"] as const;
export type ShortOutcome = (typeof SHORT_OUTCOMES)[number];
export const SHORT_OUTCOME_NAMES: Readonly<Record<ShortOutcome, string>> = {
  open: "stays open",
  disputed: "is in dispute",
  "written off": "is written off",
};

const amount = string().trim().max(40).default("");

/** What a receipt takes of an item, as written: decimals of its currency, without sign. */
export const receiptTakeSchema = object({
  item: number().integer().required(),
  /** The money for it; "" for all that is left less the discount. */
  pays: amount,
  discount: amount,
  short: string().oneOf(SHORT_OUTCOMES).default("open"),
  /** What is disputed, where it is. */
  dispute: string()
    .oneOf(["", ...DISPUTE_REASONS])
    .default(""),
});
export type ReceiptTake = InferType<typeof receiptTakeSchema>;

/** Money that a customer has sent, as it is recorded by hand. */
export const receiptSchema = object({
  company: string().required(),
  bank: string().required("Choose the bank account"),
  date: dayField().required("The date is missing"),
  partner: string().trim().max(60).required("Say who has paid"),
  amount: string().trim().max(40).required("The amount is missing"),
  /** What the payer wrote: numbers of invoices in it say what it is for. */
  text: string().trim().max(200).default(""),
  takes: array(receiptTakeSchema).max(500).default([]),
  /** Why something is written off. */
  reason: string().trim().max(200).default(""),
});
export type ReceiptInput = InferType<typeof receiptSchema>;
