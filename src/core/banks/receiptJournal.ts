import type { JournalDraft } from "../ledger";
import type { Conversion } from "../rates";
import { taxTakenBack, type ItemTax, type TaxTakenBack } from "../taxes";
import { minor, proportion, type CalendarDate, type Minor } from "../shared";
import type { LineItem } from "./lineJournal";
import { RECEIVED, settlingLines, type MoneyAccounts, type SettledItem } from "./money";
import { moneyJournal, type CodedPart } from "./moneyJournal";

/** Money that a customer has sent, before the bank's statement says so. */
export interface ReceiptToPost {
  /** What its money under way is known by: the number of the receipt, the reference of a mandate. */
  reference: string;
  /** How the journal is called: “Receipt from …”. */
  title: string;
  date: CalendarDate;
  /** Who pays, perhaps for others. */
  partner: string;
  payer: string;
  /** Positive, in minor units of the currency of the bank account. */
  amount: Minor;
  currency: string;
  /** From that currency into the company's. */
  rate: Conversion;
  takes: readonly {
    item: LineItem;
    /** Signed like the item, with the discount and what is let go in it. */
    amount: Minor;
    discount: Minor;
    /** What is missing and written off. */
    writtenOff: Minor;
    taxes?: readonly ItemTax[] | undefined;
  }[];
  /** Why something is written off. */
  reason: string;
}

/**
 * The journal of a receipt: money under way to the bank against what it takes of items, each at
 * what it is carried at, by whoever owes it; discounts less their taxes, what is written off, and
 * the rest on the payer's account. What lies between the day's rate and the items is a realised
 * exchange difference (IAS 21.28).
 * Units: minor units. Errors: throws where more is taken than came: whoever records it keeps that
 * away.
 */
export function receiptJournal(
  receipt: ReceiptToPost,
  to: MoneyAccounts & { receivables: string; writeOff: string },
): {
  draft: JournalDraft;
  settles: SettledItem[];
  taxes: TaxTakenBack[];
  /** How many of its first lines leave items that settle those. */
  settling: number;
} {
  const { takes, payer, reference } = receipt;
  const settles = takes.map(({ item, amount, discount }): SettledItem => ({
    item: item.id,
    reference: item.reference,
    account: item.account,
    partner: item.partner,
    taken: amount,
    functional:
      amount === item.left
        ? item.leftFunctional
        : proportion(item.leftFunctional, amount, item.left),
    discount,
    lost: minor(0n),
  }));
  const taxes = takes.flatMap((t) =>
    taxTakenBack({ id: t.item.id, taxes: t.taxes ?? [] }, t.discount),
  );
  const writtenOff = takes.reduce((t, x) => t + x.writtenOff, 0n);
  const paid = takes.reduce((t, x) => t + x.amount - x.discount - x.writtenOff, 0n);
  const onAccount = receipt.amount - paid;
  if (onAccount < 0n) throw new RangeError("more is taken than came");
  const coded: CodedPart[] = [];
  if (writtenOff !== 0n)
    coded.push({
      line: {
        account: to.writeOff,
        dimensions: {},
        description: `Written off: ${receipt.reason || payer}`.slice(0, 200),
      },
      amount: minor(-writtenOff),
    });
  if (onAccount !== 0n)
    coded.push({
      line: {
        account: to.receivables,
        dimensions: {},
        description: `On account, ${payer}`.slice(0, 200),
        partner: receipt.partner,
        dueDate: receipt.date,
        item: { kind: "receipt", reference: `${reference}, on account`.slice(0, 60) },
      },
      amount: minor(onAccount),
    });
  const draft = moneyJournal(
    {
      partner: receipt.partner,
      payee: payer,
      method: "bank",
      currency: receipt.currency,
      rate: receipt.rate,
      amount: receipt.amount,
      discount: minor(settles.reduce((t, s) => t + s.discount, 0n)),
      items: settles,
    },
    receipt.date,
    taxes,
    to,
    RECEIVED,
    coded,
  );
  return {
    draft: {
      ...draft,
      description: receipt.title.slice(0, 200),
      reference,
      lines: draft.lines.map((l) =>
        l.account === to.underWay ? { ...l, item: { kind: "receipt", reference } } : l,
      ),
    },
    settles,
    taxes,
    settling: settlingLines(settles),
  };
}
