import { array, number, object, string, type InferType } from "yup";
import type { JournalDraft } from "../ledger";
import { minor, proportion, type CalendarDate, type Minor } from "../shared";
import {
  isDraft,
  RECEIVED,
  settlingLines,
  type Money,
  type MoneyAccounts,
  type SettledItem,
} from "./money";
import { moneyJournal, type CodedPart } from "./moneyJournal";
import { DEPOSIT_KINDS, partName, toBank, type DepositKind } from "./depositKinds";
import type { LineItem } from "./lineJournal";

/**
 * A slip of cheques and cash that goes to the bank, or a settlement of card payments that comes from
 * whoever collects them, as written.
 */
export const depositSchema = object({
  company: string().required(),
  bank: string().required("Choose the bank account"),
  date: string().required("The date is missing"),
  parts: array(
    object({
      kind: string().oneOf(DEPOSIT_KINDS).required("Say what kind of money it is"),
      /** The customer whose money it is. */
      partner: string().trim().max(20).required("Say whose money it is"),
      /** The number of the cheque, bill or note; of a card payment that of its transaction. */
      cheque: string()
        .trim()
        .max(20)
        .default("")
        .when("kind", {
          is: (kind: string) => kind !== "cash",
          then: (s) => s.required("Its number is missing"),
        }),
      /** When a bill or note is to be paid. */
      dueDate: string()
        .trim()
        .default("")
        .when("kind", {
          is: isDraft,
          then: (s) => s.required("The day on which it is due is missing"),
        }),
      /**
       * Within the amount, what the customer pays for paying later, or what is kept for collecting
       * a card payment; "" for nothing.
       */
      fee: string().trim().default(""),
      /** The kind of movement by which the fee is posted. */
      feeKind: string().trim().max(20).default(""),
      amount: string().trim().required("The amount is missing"),
      /** Items that it pays, in this order as far as it goes; what is left stays on account. */
      items: array(number().integer().required()).max(200).default([]),
    }),
  )
    .min(1, "A slip has at least one cheque, or cash")
    .max(200)
    .required(),
});
export type DepositInput = InferType<typeof depositSchema>;

/** A fee within what a bill, a note or a card payment comes to. */
export interface DepositFee {
  /** Minor units, positive. */
  amount: Minor;
  account: string;
  dimensions: Readonly<Record<string, string>>;
}

/** A part of a slip, read. */
export interface DepositPart {
  kind: DepositKind;
  partner: string;
  payer: string;
  cheque: string;
  /** Minor units of the account's currency, positive. */
  amount: Minor;
  /** When a bill or note is to be paid; null for what is paid at sight. */
  dueDate: CalendarDate | null;
  /** What of it is a fee, and where that is posted; null for none. */
  fee: DepositFee | null;
  /** Open items of the partner, in the order in which they are paid. */
  items: readonly LineItem[];
  /** The partner's control account, where something stays on account. */
  account: string;
}

/**
 * What a part pays of each item, the first ones first, and what is left of it. A fee for paying later
 * pays none; what is kept of a card payment has been paid by the customer all the same.
 * Units: minor units; items positive, as customers owe them. What is taken of a part of an item is
 * carried at that part of what the item is carried at, half away from zero.
 */
export function shareOut(part: Pick<DepositPart, "kind" | "amount" | "items" | "fee">): {
  settles: SettledItem[];
  rest: Minor;
} {
  const forLater = isDraft(part.kind) ? (part.fee?.amount ?? 0n) : 0n;
  let rest: bigint = part.amount - forLater;
  const settles: SettledItem[] = [];
  for (const item of part.items) {
    const taken = item.left < rest ? item.left : minor(rest);
    if (taken <= 0n) continue;
    rest -= taken;
    settles.push({
      item: item.id,
      reference: item.reference,
      account: item.account,
      taken,
      functional:
        taken === item.left
          ? item.leftFunctional
          : proportion(item.leftFunctional, taken, item.left),
      discount: minor(0n),
      lost: minor(0n),
    });
  }
  return { settles, rest: minor(rest) };
}

/**
 * The journal of a part of a slip: money under way to the bank, or a bill receivable until its day,
 * known by the number of the slip, against what it pays of the customer's items and its fee; what is
 * more stays on the customer's account.
 */
export function depositJournal(
  part: DepositPart,
  slip: { number: string; date: CalendarDate; currency: string; rate: Money["rate"] },
  to: MoneyAccounts & { bills: string },
): { draft: JournalDraft; settles: SettledItem[]; settling: number } {
  const { settles, rest } = shareOut(part);
  const what = partName(part);
  // What is to be paid on a day to come is no money on its way yet.
  const underWay = isDraft(part.kind) ? to.bills : to.underWay;
  const onAccount: CodedPart[] =
    rest === 0n
      ? []
      : [
          {
            line: {
              account: part.account,
              dimensions: {},
              description: `On account, ${part.payer}`.slice(0, 200),
              partner: part.partner,
              dueDate: slip.date,
              item: { kind: "receipt", reference: `${what}, on account`.slice(0, 60) },
            },
            amount: rest,
          },
        ];
  const draft = moneyJournal(
    {
      partner: part.partner,
      payee: part.payer,
      method: part.kind,
      currency: slip.currency,
      rate: slip.rate,
      amount: toBank({ ...part, fee: part.fee?.amount ?? minor(0n) }),
      discount: minor(0n),
      items: settles,
      ...(part.dueDate === null ? {} : { due: part.dueDate }),
    },
    slip.date,
    [],
    { ...to, underWay },
    RECEIVED,
    [...onAccount, ...feeOf(part)],
  );
  return {
    draft: {
      ...draft,
      type: "bank",
      description: `${what} from ${part.payer}, ${slip.number}`.slice(0, 200),
      reference: slip.number,
      lines: draft.lines.map((l) => {
        if (l.account !== underWay) return l;
        const item = { kind: "receipt" as const, reference: slip.number };
        // Cheques and cash of a slip are one amount to the bank; each bill is paid by its debtor.
        if (isDraft(part.kind)) return { ...l, item };
        const { partner: _partner, ...own } = l;
        return { ...own, item };
      }),
    },
    settles,
    settling: settlingLines(settles),
  };
}

/** The fee of a part: received besides, or kept by whoever collects cards. */
const feeOf = ({ kind, fee, payer }: DepositPart): CodedPart[] =>
  fee === null
    ? []
    : [
        {
          line: {
            account: fee.account,
            dimensions: fee.dimensions,
            description: (kind === "card"
              ? `Kept of the card payment, ${payer}`
              : `Fee for paying later, ${payer}`
            ).slice(0, 200),
          },
          amount: kind === "card" ? minor(-fee.amount) : fee.amount,
        },
      ];
