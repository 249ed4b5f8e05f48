import { array, type InferType } from "yup";
import { MAX_PAPER_LINES, paperLineSchema, paperSchema, text } from "../trade";

export const invoiceLineSchema = paperLineSchema.shape({
  /** The order line that it bills, as "HSF-26-O00012/2", and how much of it. */
  order: text().max(60),
  quantity: text().max(40),
  /** How the cost is split: the code of shares. */
  shares: text().max(40),
});

/** A supplier's invoice as written: everything is text until it is checked. */
export const invoiceSchema = paperSchema.shape({
  supplier: text().max(60),
  /** The supplier's own number. */
  number: text().max(100),
  /** The invoice that a credit note corrects: our number of it, or the supplier's. */
  corrects: text().max(100),
  lines: array(invoiceLineSchema).default([]).max(MAX_PAPER_LINES),
});

export type InvoiceInput = InferType<typeof invoiceSchema>;

export type InvoiceLineInput = InferType<typeof invoiceLineSchema>;

export const invoiceInput = (
  written: Partial<Omit<InvoiceInput, "lines">> & { lines?: readonly Partial<InvoiceLineInput>[] },
): InvoiceInput =>
  invoiceSchema.cast({ company: "", ...written }, { assert: false }) as InvoiceInput;

/**
 * What second copies of an invoice are found by: its number in capitals, without marks and leading
 * zeros.
 */
export const numberKey = (number: string): string =>
  number
    .toUpperCase()
    .split(/[^A-Z0-9]+/)
    .map((part) => part.replace(/(^|[A-Z])0+(?=\d)/g, "$1"))
    .join("");
