import type { CalendarDate, Minor } from "../../shared";
import type { LineCoding, OwnTransfer } from "../lineState";
import type { Expected } from "./expected";
import type { RememberedLine } from "./remembered";
import type { LineRule } from "./rules";
import type { StatementKeys, StatementParty } from "../statements";

/** A line of a bank's statement, as far as it can be matched. */
export interface MatchLine {
  id: number;
  /** The bank account on whose statement it stands. */
  bank: number;
  /** Minor units of the account's currency: positive is money in. */
  amount: Minor;
  currency: string;
  booked: CalendarDate;
  party: StatementParty;
  keys: StatementKeys;
  text: string;
  code: string;
  /** Whether it takes an earlier movement back, and why: ISO 20022 reason, "" where none is given. */
  isReturn: boolean;
  returnReason: string;
}

/** What a line can be the payment of: an open item of a partner, or money of ours under way. */
export interface MatchItem {
  id: number;
  partner: string;
  /** The numbers that it is known by: of the document, of the partner's paper, of the order. */
  numbers: readonly string[];
  /** Ids by which a bank names it: our end-to-end id, the number of the cheque. */
  endToEnd: string;
  /** The block of our file in which it went out: a bank may book that as one. */
  batch?: string;
  cheque: string;
  /** What is left of it, signed: a debit is positive. A line meets items of its own sign. */
  left: Minor;
  currency: string;
  date: CalendarDate;
  due: CalendarDate;
  /**
   * What may be deducted, within what is left and of the same sign, by the last day for it; after
   * `agreedUntil` only where a person agrees.
   */
  discounts: readonly { until: CalendarDate; amount: Minor; agreedUntil?: CalendarDate }[];
  /** Whether it is money of ours that has left or is expected: the bank's line clears it. */
  underWay: boolean;
  /** A payment or direct debit of ours that a bank has carried out: only what comes back meets it. */
  carriedOut?: boolean;
  /** The bank account that it is under way from or to; null for items that any account can pay. */
  bank: number | null;
}

export interface MatchPartner {
  code: string;
  name: string;
  /** Accounts that are known to be theirs: confirmed, or remembered from earlier decisions. */
  accounts: readonly string[];
}

/** A kind of movement that has a coding of its own: charges, interest, … */
export interface CodedKind {
  code: string;
  name: string;
  side: "in" | "out" | "both";
  /** The bank's codes that mean it: PMNT-CCRD, NCHG, …; each as the beginning of a line's code. */
  codes: readonly string[];
  /** Words of the text that mean it, in capitals. */
  words: readonly string[];
  /** Whether it can be posted without anybody looking: it has an account to go to. */
  coded: boolean;
}

/** What speaks for a candidate, or against it (weight below nil). */
export interface MatchReason {
  what:
    | "end-to-end id"
    | "cheque number"
    | "creditor reference"
    | "numbers"
    | "account"
    | "name"
    | "amount"
    | "day"
    | "returned"
    | "rule"
    | "own transfer"
    | "expected"
    | "remembered"
    | "kind";
  weight: number;
  says: string;
}

/** One explanation of a line. */
export interface Candidate {
  /** What it takes of items, each signed like the item; the discount is within what is taken. */
  takes: readonly { item: number; amount: Minor; discount: Minor }[];
  /** Whose items they are; "" where none, or several. */
  partner: string;
  /** The kind of movement by whose coding it is posted, where no items are taken. */
  kind: string;
  /** The coding that a rule of the company's own gives it, instead of a kind's. */
  coding: LineCoding | null;
  /** The other side, where it is money between accounts of our own. */
  transfer: OwnTransfer | null;
  /** Whether it stays on the partner's account, for what is expected and has no item yet. */
  onAccount?: boolean;
  /** What of the line is not explained by what it takes, signed like the line. */
  rest: Minor;
  score: number;
  reasons: readonly MatchReason[];
  /** Whether it meets every rule by itself, whatever other lines there are. */
  sure: boolean;
}

export const VERDICTS = ["certain", "to decide", "unexplained"] as const;
export type Verdict = (typeof VERDICTS)[number];

export interface LineMatch {
  line: number;
  verdict: Verdict;
  /** The best first; at most `MOST_CANDIDATES`. */
  candidates: readonly Candidate[];
  /** Why it is not certain, where it has candidates. */
  but: string;
}
export const MOST_CANDIDATES = 6;

export interface OwnAccount {
  account: string;
  bank: number;
  code: string;
  /** Whether money moves there within the company and in the currency of the lines. */
  isNear: boolean;
  /** Whether it is of the company and in another currency: money is exchanged on its way there. */
  isExchange?: boolean;
  /**
   * The other company of the group that it is of, where the two have accounts on which they face each
   * other, in the currency of the lines; "" for any other account.
   */
  facing: string;
}

export interface MatchFacts {
  lines: readonly MatchLine[];
  items: readonly MatchItem[];
  partners: readonly MatchPartner[];
  kinds: readonly CodedKind[];
  /** Rules of the company's own: the first that means a line decides. */
  rules: readonly LineRule[];
  /** Accounts of our own as banks write them, in all companies. */
  ownAccounts: readonly OwnAccount[];
  /** What people have decided about lines that are posted. */
  remembered?: readonly RememberedLine[];
  /** What is expected though no item is open for it. */
  expected?: readonly Expected[];
  /** Lines of earlier days that are one side of money between own accounts, and lack the other. */
  oneSided: readonly MatchLine[];
  /** Lines in other currencies of the company that lack their other side, and can be one. */
  exchanged?: readonly MatchLine[];
  /** What lines are worth in the company's currency on their day, where that is asked and known. */
  worth?: ReadonlyMap<number, Minor>;
}
