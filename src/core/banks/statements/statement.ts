import type { CalendarDate, Minor } from "../../shared";

/** Who sent money, or got it, as the bank says. */
export interface StatementParty {
  name: string;
  /** IBAN, or the number at a bank that has none; without spaces, in capitals. */
  account: string;
  bic: string;
}
export const NO_PARTY: StatementParty = { name: "", account: "", bic: "" };

/** What the bank gives to know a movement by. */
export interface StatementKeys {
  /**
   * The id that whoever ordered the payment gave to it (ISO 20022 EndToEndId); of a batch whose parts
   * the bank does not say, that of its block (PmtInfId); "" for none.
   */
  endToEnd: string;
  /** Structured creditor reference (ISO 11649) or what the country has in its place. */
  creditorReference: string;
  mandate: string;
  cheque: string;
  /** The bank's own reference. */
  bank: string;
}
export const NO_KEYS: StatementKeys = {
  endToEnd: "",
  creditorReference: "",
  mandate: "",
  cheque: "",
  bank: "",
};

/** One movement of a batch. */
export interface StatementDetail {
  /** Signed like its line: positive is money in. Null where the bank does not say. */
  amount: Minor | null;
  party: StatementParty;
  keys: StatementKeys;
  text: string;
  /** ISO 20022 external reason code, as AC04; "" where nothing came back. */
  returnReason: string;
}

/** One line of a statement. */
export interface StatementLine extends Omit<StatementDetail, "amount"> {
  booked: CalendarDate;
  valued: CalendarDate;
  /** Minor units of the statement's currency: positive is money in. */
  amount: Minor;
  /** Whether the bank takes an earlier line back. */
  takesBack: boolean;
  /**
   * What kind of movement it is: domain, family and sub-family of ISO 20022 as PMNT-RCDT-ESCT, or
   * the type of SWIFT as NTRF, with the bank's own code behind a stroke.
   */
  code: string;
  /** Movements within it, where it is a batch and the bank says which. */
  details: readonly StatementDetail[];
  /** First and last line of the file that it stands on, from 1. */
  from: number;
  to: number;
}

/** An account statement as the bank gives it. */
export interface BankStatement {
  /** IBAN, or bank code and number, as it stands in the file without spaces. */
  account: string;
  currency: string;
  /** The bank's number of it: "211", or "211/2026". */
  number: string;
  /** Electronic id of the message it came in. */
  message: string;
  opening: { amount: Minor; date: CalendarDate };
  closing: { amount: Minor; date: CalendarDate };
  lines: readonly StatementLine[];
  /** The line of the file on which it begins. */
  from: number;
}

/**
 * Movements of an account that a bank tells of beside its statements, during the day (camt.052) or
 * with their parts (camt.054). They explain lines of statements and are none themselves.
 */
export interface BankNotice {
  account: string;
  currency: string;
  lines: readonly StatementLine[];
  from: number;
}

/** Something in a file that cannot be: on which of its lines, and what. */
export interface StatementFault {
  line: number;
  what: string;
}

export type ReadStatements =
  | { statements: readonly BankStatement[]; notices: readonly BankNotice[] }
  | { faults: readonly StatementFault[] };

/** How many faults of a file are said: the first ones explain the rest. */
export const MOST_FAULTS = 20;
/** The most lines that a file may bring. */
export const MOST_LINES = 200_000;

/** A line of which only what matters is said, on a day, for whoever writes statements. */
export type SomeLine = Omit<Partial<StatementLine>, "amount"> & { amount: Minor };

/** A line with all that is not said of it: plain money in or out, named by nothing. */
export const lineOn = (day: CalendarDate, line: SomeLine): StatementLine => ({
  booked: day,
  valued: day,
  takesBack: false,
  code: line.amount < 0n ? "PMNT-ICDT-ESCT" : "PMNT-RCDT-ESCT",
  party: NO_PARTY,
  keys: NO_KEYS,
  text: "",
  returnReason: "",
  details: [],
  from: 0,
  to: 0,
  ...line,
});
