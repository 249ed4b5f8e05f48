import type { DraftLine, JournalDraft } from "../ledger";
import { convertBy, type Conversion } from "../rates";
import { minor, type Minor } from "../shared";
import { underWayItem, type PaymentAccounts } from "./journalOfPayment";
import { type PlannedPayment } from "./paymentPlan";

export const GAINS_TO = ["owing", "paying"] as const;
export type GainsTo = (typeof GAINS_TO)[number];

export interface PayingCompany {
  company: string;
  functional: string;
  /** From the payment's currency into its own. */
  rate: Conversion;
  underWay: string;
  /**
   * Accounts of both sides: what the owing company owes it, and what it has to get from the owing
   * one.
   */
  dueTo: string;
  dueFrom: string;
}

/**
 * The journals of a payment that another company of the group makes: the owing company settles its
 * supplier and owes the paying one, which has to get it back.
 * `discountTo` and `differenceTo` say which of the two has the discount and the realised exchange
 * difference; the difference can only move where both keep
 * their books in the same currency, else it stays with the owing company.
 * Units: minor units of each company's currency. Both sides face each other with the same amount in
 * the currency of the payment.
 */
export function payForAnother(
  own: JournalDraft,
  payment: PlannedPayment,
  paying: PayingCompany,
  accounts: PaymentAccounts,
  discountTo: GainsTo,
  differenceTo: GainsTo,
): [owing: JournalDraft, paying: JournalDraft] {
  const foreignOf = (l: DraftLine): bigint => l.foreignAmount ?? l.amount;
  const signed = (l: DraftLine, amount: bigint): bigint => (l.side === "debit" ? amount : -amount);
  const differences = new Set([accounts.exchangeGain, accounts.exchangeLoss]);
  const moves = (l: DraftLine): boolean =>
    l.account === accounts.underWay ||
    (discountTo === "paying" && l.account === accounts.discount) ||
    (differenceTo === "paying" &&
      paying.functional === accounts.functional &&
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
    ...(payment.currency === currency
      ? {}
      : {
          foreignAmount: minor(foreign < 0n ? -foreign : foreign),
          ...(rate && foreign !== 0n ? { rate } : {}),
        }),
    ...(counterparty ? { counterparty } : {}),
  });
  const owing: JournalDraft = {
    ...own,
    lines: [
      ...kept,
      line(
        paying.dueTo,
        `${paying.company} pays ${payment.payee}`,
        -due.functional,
        -due.foreign,
        accounts.functional,
        rateOf,
        paying.company,
      ),
    ],
  };
  const inPaying = (amount: bigint): Minor =>
    convertBy(minor(amount), payment.currency, paying.functional, paying.rate);
  const payingRate = paying.rate === "same" ? null : paying.rate.rate;
  const lines = [
    line(
      paying.dueFrom,
      `Paid for ${own.company}: ${payment.payee}`,
      paying.functional === accounts.functional ? due.functional : inPaying(due.foreign),
      due.foreign,
      paying.functional,
      payingRate,
      own.company,
    ),
    {
      ...line(
        paying.underWay,
        `To ${payment.payee} for ${own.company}, ${payment.method}`,
        -inPaying(payment.amount),
        -payment.amount,
        paying.functional,
        payingRate,
      ),
      ...underWayItem(payment, own.date),
    },
  ];
  const discount = moved
    .filter((l) => l.account === accounts.discount)
    .reduce((t, l) => t - signed(l, foreignOf(l)), 0n);
  if (discount !== 0n)
    lines.push(
      line(
        accounts.discount,
        `Discount, ${payment.payee}`,
        -inPaying(discount),
        -discount,
        paying.functional,
        payingRate,
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
        paying.functional,
        null,
      ),
    );
  return [
    owing,
    {
      company: paying.company,
      type: "payment",
      book: null,
      date: own.date,
      ...(payment.currency === paying.functional ? {} : { currency: payment.currency }),
      description: `Payment to ${payment.payee} for ${own.company}`.slice(0, 200),
      reference: own.reference ?? "",
      lines,
    },
  ];
}
