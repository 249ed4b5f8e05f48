import { array, boolean, object, string, type InferType } from "yup";
import {
  addMonths,
  dateText,
  datesOf,
  endOfMonth,
  fillPattern,
  rhythmSchema,
  type CalendarDate,
  amountText,
  proportion,
  split,
  type Minor,
} from "../shared";
import { invoiceSchema, type InvoiceInput } from "./invoiceInput";

export const JOURNAL_DAYS = ["invoice date", "end of its month", "start of next month"] as const;

/**
 * A supplier's invoice that comes again, as written: what is the same each time, and how the rest
 * is made.
 */
export const recurringInvoiceSchema = object({
  name: string().trim().required("A name is needed").max(100),
  /** One invoice is made for each. */
  suppliers: array(string().trim().required())
    .min(1, "Name a supplier")
    .max(500)
    .required("Name a supplier"),
  rhythm: rhythmSchema.required(),
  /** The supplier's number as it will be: {yyyy}, {yy}, {mm}, {month}, {q}, {n}. */
  numberPattern: string().trim().required("Say how its number is made, as PREM-{yyyy}-{q}").max(60),
  journalDay: string().oneOf(JOURNAL_DAYS).default("invoice date"),
  /** What was agreed in all, with tax; empty: without end. */
  agreed: string().trim().default("").max(40),
  /** Whether what was agreed is spread over the dates; the lines then say in which parts. */
  spread: boolean().default(false),
  invoice: invoiceSchema.required(),
});
export type RecurringInvoice = InferType<typeof recurringInvoiceSchema>;

/**
 * An invoice that comes to an amount, as the last one of an agreed total, or a part of it: each line
 * in proportion, so that the whole with its tax is that amount. Amounts are written with their tax in them.
 * Units: minor units of the invoice's currency. Rounding: largest remainder, the parts add up to
 * what is left.
 */
export function cutToTotal(
  content: InvoiceInput,
  lines: readonly { line: number; net: Minor; tax: Minor }[],
  gross: Minor,
  left: Minor,
  currency: string,
): InvoiceInput {
  // Where tax is owed to the office and not to the supplier, the lines have none in them.
  const withTax = lines.reduce((t, l) => t + l.net + l.tax, 0n) === gross;
  const weights = lines.map((l) => (withTax ? l.net + l.tax : l.net));
  const parts = split(left, weights);
  const texts = new Map(lines.map((l, i) => [l.line, amountText(parts[i]!, currency)]));
  return {
    ...content,
    gross: true,
    lines: content.lines.map((l, i) => ({ ...l, net: texts.get(i + 1) ?? l.net })),
  };
}

/**
 * What the next of the invoices over which an agreed total is spread comes to: what is left in equal
 * parts, so that the last one takes the rest to the cent. Rounding: half away from zero.
 */
export const nextPart = (left: Minor, remaining: number): Minor =>
  remaining <= 1 ? left : proportion(left, 1n, BigInt(remaining));

/** The invoice of a template for one supplier and date. Its place in the rhythm counts from 1. */
export function recurringContent(
  template: RecurringInvoice,
  supplier: string,
  date: CalendarDate,
): InvoiceInput {
  const n = datesOf(template.rhythm, date).length;
  const posting =
    template.journalDay === "end of its month"
      ? endOfMonth(date)
      : template.journalDay === "start of next month"
        ? addMonths(`${date.slice(0, 7)}-01`, 1)
        : "";
  const fill = (text: string) => fillPattern(text, date, n);
  return {
    ...template.invoice,
    supplier,
    number: fill(template.numberPattern),
    date: dateText(date),
    postingDate: posting === "" ? "" : dateText(posting),
    dueDate: "",
    total: "",
    description: fill(template.invoice.description || template.name),
    lines: template.invoice.lines.map((l) => ({ ...l, description: fill(l.description) })),
  } as InvoiceInput;
}
