import type { BankAddress } from "./bankAddress";
import type { Conversion } from "../rates";
import type { CalendarDate, Minor } from "../shared";

/** What paying and being paid differ in, where money becomes a journal. */
export interface MoneySide {
  /** The journal type, and the kind of open item that it leaves. */
  kind: "payment" | "receipt";
  /** 1 where money leaves the bank: a payment's amount is a credit there, a receipt's a debit. */
  turn: 1n | -1n;
  title: string;
  /** Before the name of who gets it or sends it. */
  preposition: "To" | "From";
}

export const PAID: MoneySide = {
  kind: "payment",
  turn: 1n,
  title: "Payment to",
  preposition: "To",
};
export const RECEIVED: MoneySide = {
  kind: "receipt",
  turn: -1n,
  title: "Receipt from",
  preposition: "From",
};

/** What money takes from an open item: signed as the item. */
export interface SettledItem {
  item: number;
  reference: string;
  account: string;
  /** Whose item it is, where somebody else pays for them: a head office for its branches. */
  partner?: string;
  taken: Minor;
  functional: Minor;
  /** Positive, within what is taken. */
  discount: Minor;
  /** The best discount that there ever was for this part, less the one had. */
  lost: Minor;
}

/**
 * Money that settles items of a partner. Amounts positive in minor units of its currency, or
 * negative where it goes the other way, as a refund does.
 */
export interface Money {
  partner: string;
  /** Who gets it, or whom it comes from. */
  payee: string;
  method: string;
  currency: string;
  rate: Conversion;
  amount: Minor;
  discount: Minor;
  items: readonly SettledItem[];
  /** When the bank pays it, where that is agreed: a bill or a note. */
  due?: CalendarDate;
}

export const PAYMENT_METHODS = ["transfer", "cheque", "manual"] as const;
export type PaymentMethod = (typeof PAYMENT_METHODS)[number];
/** Papers by which somebody promises to pay on a day to come. */
export const DRAFT_KINDS = ["bill", "note"] as const;
export type DraftKind = (typeof DRAFT_KINDS)[number];
export const isDraft = (method: string): method is DraftKind =>
  (DRAFT_KINDS as readonly string[]).includes(method);

/**
 * How a payment was made: as a run pays, by a paper that is due later, by the supplier who debits our
 * account, or as a refund that comes in.
 */
export const MADE_BY = [...PAYMENT_METHODS, ...DRAFT_KINDS, "debit", "refund"] as const;
export type MadeBy = (typeof MADE_BY)[number];
export const MADE_BY_NAMES: Readonly<Record<MadeBy, string>> = {
  transfer: "transfer",
  cheque: "cheque",
  manual: "hand",
  bill: "bill of exchange",
  note: "promissory note",
  debit: "direct debit",
  refund: "refund",
};

/** One payment to be made. */
export interface PlannedPayment extends Money, BankAddress {
  key: string;
  method: MadeBy;
  functional: Minor;
  bankId: number | null;
  holder: string;
  items: SettledItem[];
}

/** Where the parts of money are posted. */
export interface MoneyAccounts {
  company: string;
  functional: string;
  underWay: string;
  /** Of discounts had, or granted. */
  discount: string;
  exchangeGain: string;
  exchangeLoss: string;
}

/** Items of one partner on one account: a journal of money has a line for each such place. */
export function placesOf(items: readonly SettledItem[]): (readonly SettledItem[])[] {
  const places = new Map<string, SettledItem[]>();
  for (const i of items) {
    const key = `${i.account} ${i.partner ?? ""}`;
    places.set(key, [...(places.get(key) ?? []), i]);
  }
  return [...places.values()];
}

/**
 * How many of the first lines of a journal of money leave items that settle those: a place whose items
 * come to nothing together has no line, and they settle each other.
 */
export const settlingLines = (items: readonly SettledItem[]): number =>
  placesOf(items).filter(
    (of) =>
      of.reduce((t, i) => t + i.taken, 0n) !== 0n ||
      of.reduce((t, i) => t + i.functional, 0n) !== 0n,
  ).length;

/** What money leaves on the account of money under way: an item that the bank clears, in part too. */
export const underWayItem = (
  { partner, due }: Pick<Money, "partner" | "due">,
  date: CalendarDate,
  side: MoneySide,
) => ({
  ...(partner ? { partner } : {}),
  dueDate: due ?? date,
  item: {
    kind: side.kind,
    reference: `${side.kind === "payment" ? "Payment" : "Receipt"} ${date}`,
  },
});
