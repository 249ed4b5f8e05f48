import type { TaxDirection } from "../taxes";

/** What buying and selling differ in, where a trade document becomes a journal. */
export interface TradeSide {
  direction: TaxDirection;
  /** The journal type that it is posted as. */
  journalType: "purchase" | "sales";
  /**
   * The side on which the lines of an invoice stand: cost is a debit (1), revenue a credit (-1).
   * The partner stands on the other one, and a credit note turns both round.
   */
  turn: 1n | -1n;
  partner: { field: "supplier" | "customer"; noun: string; plural: string };
  /** What its number is called where it has to be written: our own is given when it is posted. */
  number: string | null;
}

export const BUYING: TradeSide = {
  direction: "purchase",
  journalType: "purchase",
  turn: 1n,
  partner: { field: "supplier", noun: "The supplier", plural: "suppliers" },
  number: "The supplier's number",
};

export const SELLING: TradeSide = {
  direction: "sale",
  journalType: "sales",
  turn: -1n,
  partner: { field: "customer", noun: "The customer", plural: "customers" },
  number: null,
};
