import { array, boolean, object, string, type InferType } from "yup";
import { RATE_KINDS } from "../rates";
import { textRecord } from "../shared";
import { TAX_ROUNDINGS } from "../taxes";

export const text = () => string().default("");

export const MAX_INVOICE_LINES = 2000;

export const invoiceLineSchema = object({
  account: text().max(100),
  dimensions: textRecord(),
  description: text().max(1000),
  net: text().max(100),
  taxCode: text().max(40),
  /** The company that bears it, where it is another one of the group. */
  company: text().max(20),
  /** The order line that it bills, as "HSF-26-O00012/2", and how much of it. */
  order: text().max(60),
  quantity: text().max(40),
  /** How the cost is split: the code of shares. */
  shares: text().max(40),
});

/** A supplier's invoice as written: everything is text until it is checked. */
export const invoiceSchema = object({
  company: string().required().max(20),
  supplier: text().max(60),
  kind: string()
    .oneOf(["invoice", "credit note"] as const)
    .default("invoice"),
  /** The supplier's own number. */
  number: text().max(100),
  /** The day on the paper; tax and terms go by it. */
  date: text().max(100),
  /** The day in the ledger, where that is another one. */
  postingDate: text().max(100),
  /** Code of terms, where the supplier's own do not hold. */
  terms: text().max(40),
  /** A due date that stands on the paper. */
  dueDate: text().max(100),
  currency: string().nullable().default(null).max(10),
  rateKind: string().oneOf(RATE_KINDS).default("spot"),
  rate: text().max(40),
  description: text().max(1000),
  /** What the paper says in all; nothing is posted while it differs. */
  total: text().max(100),
  rounding: string().oneOf(TAX_ROUNDINGS).default("line"),
  /** The invoice that a credit note corrects: our number of it, or the supplier's. */
  corrects: text().max(100),
  /** Key of the period in which its taxes are reported; "" for the first one that takes them. */
  taxPeriod: text().max(20),
  /** The control account that it stands on, where that is not the common one of suppliers. */
  controlAccount: text().max(20),
  /**
   * Code of a tax that is kept back from the supplier and paid to the authority, on the net amount.
   */
  withholding: text().max(40),
  /** Whether the amounts of the lines have their tax in them. */
  gross: boolean().default(false),
  lines: array(invoiceLineSchema).default([]).max(MAX_INVOICE_LINES),
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
