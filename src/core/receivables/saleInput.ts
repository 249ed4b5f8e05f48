import { array, boolean, type InferType } from "yup";
import { MAX_PAPER_LINES, paperLineSchema, paperSchema, text } from "../trade";

export const saleLineSchema = paperLineSchema.shape({
  /** What is sold: the code of an item. */
  item: text().max(30),
  quantity: text().max(40),
  /** In which the quantity is: UNECE recommendation 20, or in words. */
  unit: text().max(20),
  /** Of one unit; the amount follows from it. */
  price: text().max(40),
  /** Per cent off this line. */
  discount: text().max(20),
  /** How the revenue is split: the code of shares. */
  shares: text().max(40),
  /** The days over which it is earned, where that is not at once. */
  earnedFrom: text().max(40),
  earnedTo: text().max(40),
  /** Number of the invoice that asked for the prepayment that this line sets off. */
  setsOff: text().max(40),
});

/** An invoice or credit note to a customer as written: everything is text until it is checked. */
export const saleSchema = paperSchema.shape({
  customer: text().max(60),
  /** What the customer wants to be named by: its order, a name. */
  reference: text().max(100),
  /** Whether it asks for a prepayment: nothing is earned by it yet. */
  prepayment: boolean().default(false),
  /** The day on which it was supplied, where that is not the invoice's. */
  deliveredOn: text().max(40),
  /** Number of the invoice that a credit note corrects. */
  corrects: text().max(100),
  /** Per cent off the whole. */
  discount: text().max(20),
  lines: array(saleLineSchema).default([]).max(MAX_PAPER_LINES),
});
export type SaleInput = InferType<typeof saleSchema>;
export type SaleLineInput = InferType<typeof saleLineSchema>;

/** Tax is rounded once for all lines where nothing else is said: e-invoices ask for that. */
export const saleInput = (
  written: Partial<Omit<SaleInput, "lines">> & { lines?: readonly Partial<SaleLineInput>[] },
): SaleInput =>
  saleSchema.cast({ company: "", rounding: "total", ...written }, { assert: false }) as SaleInput;
