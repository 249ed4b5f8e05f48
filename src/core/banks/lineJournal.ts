import type { DraftLine, JournalDraft } from "../ledger";
import type { Conversion } from "../rates";
import { taxTakenBack, type ItemTax, type TaxTakenBack } from "../taxes";
import { minor, proportion, type CalendarDate, type Minor } from "../shared";
import { PAID, RECEIVED, settlingLines, type MoneyAccounts, type SettledItem } from "./money";
import { moneyJournal, type CodedPart } from "./moneyJournal";

/** An open item that a line of a statement takes from. */
export interface LineItem {
  id: number;
  account: string;
  /** What stands behind the account: payables, receivables, or money under way (transit). */
  control: "payables" | "receivables" | "transit";
  partner: string;
  reference: string;
  left: Minor;
  leftFunctional: Minor;
}

interface RestCoding {
  account: string;
  dimensions: Readonly<Record<string, string>>;
  text: string;
  /** The company of the group that it is due from or to. */
  counterparty?: string;
  /** Whether a person chose it: posting refuses it on accounts that a list stands behind. */
  written?: true;
}

/** A part of what is left, signed like the line. */
export type RestPart = RestCoding & { amount: Minor };

export interface LineToPost {
  booked: CalendarDate;
  /** Positive is money in. */
  amount: Minor;
  currency: string;
  /** From its currency into the company's. */
  rate: Conversion;
  /** Who pays for several partners; "" where it is whoever's items it takes. */
  partner?: string;
  /** Whom it is from or to, and what the bank says. */
  payee: string;
  text: string;
  takes: readonly {
    item: LineItem;
    amount: Minor;
    discount: Minor;
    /** What the taxes of its document came to: a discount takes back its part of them. */
    taxes?: readonly ItemTax[] | undefined;
  }[];
  /** What is not taken of items, signed like the line. */
  rest: Minor;
  /**
   * Where the rest goes: one coding, parts of it with their codings, or the partner's account; null
   * where there is none.
   */
  restTo:
    | { coding: RestCoding }
    | { parts: readonly RestPart[] }
    | { partner: string; account: string; reference?: string }
    | null;
}

export interface LineJournal {
  draft: JournalDraft;
  /** What it takes of items, each signed like the item. */
  settles: readonly SettledItem[];
  /** What the discounts take back of taxes. */
  taxes: readonly TaxTakenBack[];
  /** How many of its first lines leave items that settle those. */
  settling: number;
}

/**
 * The journal of a line of a bank's statement: the bank's account for the amount, the items for what
 * is taken of them, at what they are carried at, discounts less the taxes that they take back, and the
 * rest where it was said to go.
 * What remains between the day's rate and what the items are carried at is a realised exchange
 * difference (IAS 21.28).
 * Units: minor units. Takes, less their discounts, and the rest come to the line. Errors: throws
 * where they do not, or a rest has nowhere to go: both are kept from it by whoever decides.
 */
export function lineJournal(line: LineToPost, to: MoneyAccounts): LineJournal {
  const taken = line.takes.reduce((t, x) => t + x.amount - x.discount, 0n);
  if (taken + line.rest !== line.amount) throw new RangeError("the parts are not the line");
  if (line.rest !== 0n && !line.restTo) throw new RangeError("a rest without a place");
  const side = line.amount < 0n ? PAID : RECEIVED;
  const sign = line.amount < 0n ? -1n : 1n;
  const items: SettledItem[] = line.takes.map(({ item, amount, discount }) => ({
    item: item.id,
    reference: item.reference,
    account: item.account,
    // Money under way is of whom the line is; what partners owe is theirs, whoever pays.
    ...(item.control === "transit" ? {} : { partner: item.partner }),
    taken: amount,
    functional:
      amount === item.left
        ? item.leftFunctional
        : proportion(item.leftFunctional, amount, item.left),
    discount: minor(discount < 0n ? -discount : discount),
    lost: minor(0n),
  }));
  const taxes = line.takes.flatMap((t, i) =>
    taxTakenBack({ id: t.item.id, taxes: t.taxes ?? [] }, items[i]!.discount),
  );
  const partner =
    line.partner ||
    (line.takes[0]?.item.partner ?? (isPartner(line.restTo) ? line.restTo.partner : ""));
  const draft = moneyJournal(
    {
      partner,
      payee: line.payee,
      method: "bank",
      currency: line.currency,
      rate: line.rate,
      amount: minor(sign * line.amount),
      discount: minor(items.reduce((t, i) => t + i.discount, 0n)),
      items,
    },
    line.booked,
    taxes,
    to,
    side,
    restParts(line, side.kind).map((p) => ({ ...p, amount: minor(sign * p.amount) })),
  );
  return {
    draft: {
      ...draft,
      type: "bank",
      description: line.payee.slice(0, 200) || line.text.slice(0, 200) || "Bank movement",
      lines: draft.lines.map((l) => (l.account === to.underWay ? onBank(l, line) : l)),
    },
    settles: items,
    taxes,
    settling: settlingLines(items),
  };
}

const isPartner = (
  to: LineToPost["restTo"],
): to is { partner: string; account: string; reference?: string } => to !== null && "partner" in to;

/** The bank's own line says what the bank says, and leaves no item. */
function onBank(l: DraftLine, line: LineToPost): DraftLine {
  const { item: _item, partner: _partner, dueDate: _due, ...bare } = l;
  return { ...bare, description: [line.payee, line.text].filter(Boolean).join(", ").slice(0, 200) };
}

/** What is left, in its parts, each signed like the line. */
function restParts(line: LineToPost, kind: "payment" | "receipt"): CodedPart[] {
  const { rest, restTo } = line;
  if (rest === 0n) return [];
  if (isPartner(restTo)) return [{ line: onPartner(line, restTo, kind), amount: rest }];
  const parts = "parts" in restTo! ? restTo.parts : [{ ...restTo!.coding, amount: rest }];
  if (parts.reduce((t, p) => t + p.amount, 0n) !== rest)
    throw new RangeError("the parts are not what is left");
  return parts.map(({ amount, text, ...coding }) => ({
    line: { ...coding, description: (text || line.text || line.payee).slice(0, 200) },
    amount,
  }));
}

const onPartner = (
  line: LineToPost,
  to: { partner: string; account: string; reference?: string },
  kind: "payment" | "receipt",
): CodedPart["line"] => ({
  account: to.account,
  dimensions: {},
  description: (to.reference ?? `On account, ${line.payee}`).slice(0, 200),
  ...(to.partner === "" ? {} : { partner: to.partner }),
  dueDate: line.booked,
  item: { kind, reference: to.reference ?? `On account ${line.booked}` },
});
