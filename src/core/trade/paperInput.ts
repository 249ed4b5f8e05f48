import { boolean, string, type InferType, object } from "yup";
import { RATE_KINDS } from "../rates";
import { textRecord, type CalendarDate } from "../shared";
import { TAX_ROUNDINGS } from "../taxes";

/** A text as written, empty where nothing is. */
export const text = () => string().default("");

export const MAX_PAPER_LINES = 2000;

/** What every line of a trade document says, whoever buys. */
export const paperLineSchema = object({
  account: text().max(100),
  dimensions: textRecord(),
  description: text().max(1000),
  net: text().max(100),
  taxCode: text().max(40),
  /** The company that bears or earns it, where it is another one of the group. */
  company: text().max(20),
});
export type PaperLine = InferType<typeof paperLineSchema>;

/** What the head of every trade document says: everything is text until it is checked. */
export const paperSchema = object({
  company: string().required().max(20),
  kind: string()
    .oneOf(["invoice", "credit note"] as const)
    .default("invoice"),
  /** The day on the paper; tax and terms go by it. */
  date: text().max(100),
  /** The day in the ledger, where that is another one. */
  postingDate: text().max(100),
  /** Code of terms, where the partner's own do not hold. */
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
  /** Key of the period in which its taxes are reported; "" for the first one that takes them. */
  taxPeriod: text().max(20),
  /** The control account that it stands on, where that is not the common one. */
  controlAccount: text().max(20),
  /** Code of a tax that the buyer keeps back and pays to the authority, on the net amount. */
  withholding: text().max(40),
  /** Whether the amounts of the lines have their tax in them. */
  gross: boolean().default(false),
});

/** A trade document as written, with its partner and number whatever its kind calls them. */
export interface PaperInput<L extends PaperLine> extends InferType<typeof paperSchema> {
  partner: string;
  number: string;
  lines: readonly L[];
  /** When it was supplied; null where that is not said yet, and not given where nobody asks. */
  delivered?: CalendarDate | null;
}
