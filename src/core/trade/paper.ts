import type { EntryLine, JournalEntry } from "../ledger";
import type { Instalment, Terms } from "../openItems";
import type { CalendarDate, Found, Minor } from "../shared";
import type { TaxCode } from "../taxes";

export const DISCOUNT_ON = ["invoice total", "net", "amount payable"] as const;
export type DiscountOn = (typeof DISCOUNT_ON)[number];

/** What a trade document is read with. */
export interface PaperContext {
  functional: string;
  today: CalendarDate;
  /** Codes of its direction. */
  taxCodes: ReadonlyMap<string, TaxCode>;
  terms: ReadonlyMap<string, Terms>;
  partner: {
    code: string;
    name: string;
    terms: string | null;
    blocked: boolean;
    /** Why, where that is known. */
    why?: string;
  } | null;
  /** The common control account of its partners. */
  control: string;
  /** Control accounts on which it may stand instead. */
  controls?: ReadonlySet<string>;
  /** What a discount is a per cent of: of the document's total, where nothing is said. */
  discountOn?: DiscountOn;
}

/**
 * What was computed for a tax code of a trade document. Minor units of its currency, signed as on
 * the paper.
 */
export interface TaxSum {
  code: string;
  percent: string;
  from: CalendarDate;
  base: Minor;
  tax: Minor;
  recoverable: Minor;
  returnLine: string;
  reverse: boolean;
  /** Kept back by the buyer. */
  withheld?: boolean;
}

/** A line as written, once it is read. Minor units of the document's currency. */
export interface ReadLine<L> {
  /** Its place, from 1. */
  line: number;
  input: L;
  amount: Minor;
  code: TaxCode | null;
  percent: string;
  from: CalendarDate | "";
}

/** What tax makes of a line. */
export interface TaxedLine {
  net: Minor;
  tax: Minor;
  recoverable: Minor;
}

/** Lines of the journal to be, each with the line as written that it comes from. */
export interface PaperLines {
  lines: EntryLine[];
  /** From 1; null where the system added it. */
  sources: (number | null)[];
  /** Adds a line by a signed amount: a debit is positive. Nothing is added for nothing. */
  add(line: Omit<EntryLine, "side" | "amount">, amount: bigint, source: number | null): void;
  /** Adds a line as it is. */
  put(line: EntryLine, source: number | null): void;
}

export interface PaperReading {
  /** The journal that it becomes; lines that the system adds come after those as written. */
  entry: JournalEntry;
  sources: (number | null)[];
  lines: { line: number; net: Minor; tax: Minor }[];
  taxes: TaxSum[];
  net: Minor;
  tax: Minor;
  /** What is owed: net and tax, without what the buyer owes to the authority. */
  gross: Minor;
  instalments: Instalment[];
  currency: string;
  date: CalendarDate | "";
  problems: Found[];
}
