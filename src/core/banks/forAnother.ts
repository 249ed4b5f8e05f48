import type { DraftLine, JournalDraft } from "../ledger";
import { convertBy, type Conversion } from "../rates";
import { minor, type Minor } from "../shared";
import { underWayItem, type Money, type MoneyAccounts, type MoneySide } from "./money";

export const GAINS_TO = ["owing", "paying"] as const;
export type GainsTo = (typeof GAINS_TO)[number];

/** The company at whose bank the money is: which pays for another one, or is paid for it. */
export interface BankingCompany {
  company: string;
  functional: string;
  /** From the money's currency into its own. */
  rate: Conversion;
  underWay: string;
  /** The accounts on which each faces the other: what one owes, and what the other has to get. */
  facing: { ofItems: string; ofBank: string };
}

/**
 * The journals of money that another company of the group pays or receives. Paid: the owing company
 * settles its supplier and owes the paying one, which has to get it back. Received: the company
 * that was owed settles its customer and has to get the money from the other one, which owes it.
 * `discountTo` and `differenceTo` say which of the two has the discount and the realised exchange
 * difference (the one whose items they are is "owing"); the difference can only move where both
 * keep their books in the same currency, else it stays.
 * Units: minor units of each company's currency. Both sides face each other with the same amount in
 * the currency of the money.
 */
export function moneyForAnother(
  own: JournalDraft,
  money: Money,
  banking: BankingCompany,
  accounts: MoneyAccounts,
  side: MoneySide,
  to: { discount: GainsTo; difference: GainsTo },
): [ofItems: JournalDraft, ofBank: JournalDraft] {
  const paid = side.turn > 0n;
  const foreignOf = (l: DraftLine): bigint => l.foreignAmount ?? l.amount;
  const signed = (l: DraftLine, amount: bigint): bigint => (l.side === "debit" ? amount : -amount);
  const differences = new Set([accounts.exchangeGain, accounts.exchangeLoss]);
  const moves = (l: DraftLine): boolean =>
    l.account === accounts.underWay ||
    (to.discount === "paying" && l.account === accounts.discount) ||
    (to.difference === "paying" &&
      banking.functional === accounts.functional &&
      differences.has(l.account) &&
      (l.foreignAmount ?? 1n) === 0n);
  const kept = own.lines.filter((l) => !moves(l));
  const moved = own.lines.filter(moves);
  const due = {
    functional: moved.reduce((t, l) => t - signed(l, l.amount), 0n),
    foreign: moved.reduce((t, l) => t - signed(l, foreignOf(l)), 0n),
  };
  const rateOf = own.lines.find((l) => l.rate !== undefined)?.rate;
  const line = (
    account: string,
    description: string,
    amount: bigint,
    foreign: bigint,
    currency: string,
    rate: string | null | undefined,
    counterparty?: string,
  ): DraftLine => ({
    account,
    dimensions: {},
    description,
    side: (amount === 0n ? foreign : amount) > 0n ? "debit" : "credit",
    amount: minor(amount < 0n ? -amount : amount),
    ...(money.currency === currency
      ? {}
      : {
          foreignAmount: minor(foreign < 0n ? -foreign : foreign),
          ...(rate && foreign !== 0n ? { rate } : {}),
        }),
    ...(counterparty ? { counterparty } : {}),
  });
  const ofItems: JournalDraft = {
    ...own,
    lines: [
      ...kept,
      line(
        banking.facing.ofItems,
        paid
          ? `${banking.company} pays ${money.payee}`
          : `${banking.company} is paid by ${money.payee}`,
        -due.functional,
        -due.foreign,
        accounts.functional,
        rateOf,
        banking.company,
      ),
    ],
  };
  const inBanking = (amount: bigint): Minor =>
    convertBy(minor(amount), money.currency, banking.functional, banking.rate);
  const bankingRate = banking.rate === "same" ? null : banking.rate.rate;
  const lines = [
    line(
      banking.facing.ofBank,
      `${paid ? "Paid" : "Received"} for ${own.company}: ${money.payee}`,
      banking.functional === accounts.functional ? due.functional : inBanking(due.foreign),
      due.foreign,
      banking.functional,
      bankingRate,
      own.company,
    ),
    {
      ...line(
        banking.underWay,
        `${side.preposition} ${money.payee} for ${own.company}, ${money.method}`,
        inBanking(-side.turn * money.amount),
        -side.turn * money.amount,
        banking.functional,
        bankingRate,
      ),
      ...underWayItem(money, own.date, side),
    },
  ];
  const discount = moved
    .filter((l) => l.account === accounts.discount)
    .reduce((t, l) => t - signed(l, foreignOf(l)), 0n);
  if (discount !== 0n)
    lines.push(
      line(
        accounts.discount,
        `Discount, ${money.payee}`,
        -inBanking(discount),
        -discount,
        banking.functional,
        bankingRate,
      ),
    );
  const rest = lines.reduce((t, l) => t + signed(l, l.amount), 0n);
  if (rest !== 0n)
    lines.push(
      line(
        rest > 0n ? accounts.exchangeGain : accounts.exchangeLoss,
        "Exchange difference of settled items",
        -rest,
        0n,
        banking.functional,
        null,
      ),
    );
  return [
    ofItems,
    {
      company: banking.company,
      type: side.kind,
      book: null,
      date: own.date,
      ...(money.currency === banking.functional ? {} : { currency: money.currency }),
      description: `${side.title} ${money.payee} for ${own.company}`.slice(0, 200),
      reference: own.reference ?? "",
      lines,
    },
  ];
}
