import { part } from "../openItems";
import type { RunItem, Step } from "../runs";
import {
  amountText,
  dateText,
  minor,
  readAmount,
  type CalendarDate,
  type Found,
  type Minor,
} from "../shared";
import { type PayableItem } from "./payments";
import { paymentItemKey } from "./paymentPlan";
import type { CodedPart, SettledItem } from "../banks";
import { discountLost } from "../openItems";

/** One payment by itself as written: amounts are decimals of its currency. */
export interface SinglePaymentInput {
  supplier: string;
  date: CalendarDate;
  /** It comes in: the supplier pays back what it owes us. */
  refund: boolean;
  currency: string;
  description: string;
  /** Without an amount, all that is left after the discount. */
  items: readonly { id: number; amount: string; discount: string }[];
  lines: readonly {
    account: string;
    dimensions: Readonly<Record<string, string>>;
    description: string;
    amount: string;
  }[];
}

export interface SinglePayment {
  items: SettledItem[];
  lines: CodedPart[];
  /**
   * Positive for what leaves the bank, negative for what comes in; minor units of the payment's
   * currency.
   */
  amount: Minor;
  problems: Found[];
}

interface Known {
  /** The open items that it names, by id. */
  items: ReadonlyMap<number, PayableItem>;
  /** Whether an account holds advances to suppliers: what is paid to it leaves an open item. */
  isAdvance(account: string): boolean;
  /** Whether an account holds tax that this payment may bring to the office. */
  isTaxOwed(account: string): boolean;
}

/**
 * Reads a payment of items and codings, and says what stands against it at the place where it
 * stands.
 * Rounding: the functional part of what is taken from an item as `part` says. Nothing is rounded in
 * the payment's own currency.
 */
export function readSinglePayment(input: SinglePaymentInput, known: Known): SinglePayment {
  const problems: Found[] = [];
  const items = input.items.flatMap((wanted, i): SettledItem[] => {
    const read = input.items.slice(0, i).some((w) => w.id === wanted.id)
      ? twice(known.items.get(wanted.id))
      : readItem(wanted, known.items.get(wanted.id), input);
    if (!("code" in read)) return [read];
    problems.push({ ...read, line: i + 1 });
    return [];
  });
  const lines = input.lines.flatMap((l, i): CodedPart[] => {
    if (l.account === "" && l.amount === "") return [];
    const read = readAmount(l.amount, input.currency);
    if (!read.ok || read.amount === 0n) {
      problems.push({ code: "AMOUNT_NOT_NUMBER", text: l.amount, line: i + 1, field: "amount" });
      return [];
    }
    // An advance leaves an open item of its supplier, to be set against the invoice that comes
    // later.
    const advance = known.isAdvance(l.account);
    if (advance && input.supplier === "")
      problems.push({
        code: "PARTNER_REQUIRED",
        account: l.account,
        line: i + 1,
        field: "account",
      });
    const item = {
      kind: "prepayment" as const,
      reference: (input.description || `Advance ${input.date}`).slice(0, 60),
    };
    return [
      {
        line: {
          account: l.account,
          dimensions: l.dimensions,
          description: l.description || input.description,
          ...(advance
            ? { partner: input.supplier, dueDate: input.date, item }
            : known.isTaxOwed(l.account)
              ? {}
              : { written: true as const }),
        },
        amount: read.amount,
      },
    ];
  });
  const amount = minor(
    items.reduce((t, i) => t - i.taken - i.discount, 0n) + lines.reduce((t, l) => t + l.amount, 0n),
  );
  if (problems.length === 0) {
    if (items.length === 0 && lines.length === 0)
      problems.push({ code: "REQUIRED", what: "What is paid: an item or a line" });
    else if (input.refund && amount >= 0n)
      problems.push({
        code: "INVALID",
        what: "A refund comes in: choose what the supplier owes us, or lines with a minus",
        field: "items",
      });
    else if (!input.refund && amount <= 0n)
      problems.push({
        code: "INVALID",
        what: "Nothing would be paid: what is taken off is as much as what is owed. Settle it without a payment, or note a refund",
        field: "items",
      });
  }
  return { items, lines, amount, problems };
}

const twice = (item: PayableItem | undefined): Found => ({
  code: "INVALID",
  what: `${item?.reference ?? "An item"} is paid twice here; add the amounts`,
});

function readItem(
  wanted: SinglePaymentInput["items"][number],
  item: PayableItem | undefined,
  input: SinglePaymentInput,
): SettledItem | Found {
  const { currency } = input;
  if (!item) return { code: "NOT_FOUND", what: "such open item" };
  if (item.partner !== input.supplier) return { code: "ITEM_OTHER_PARTNER" };
  if (item.currency !== currency)
    return { code: "ITEM_OTHER_CURRENCY", first: item.currency, second: currency };
  if (item.hold !== "")
    return { code: "IN_USE", what: `${item.reference} is on hold: ${item.hold}. Release it first` };
  if (item.date > input.date)
    return {
      code: "INVALID",
      what: `${item.reference} is booked on ${dateText(item.date)}, after this payment`,
      field: "date",
    };
  if (item.takenBy !== null)
    return {
      code: "IN_USE",
      what: `${item.takenBy} has taken ${item.reference}; post or discard that run first`,
    };
  const owed = item.left < 0n;
  const left = minor(owed ? -item.left : item.left);
  const discount = readAmount(wanted.discount.trim() || "0", currency);
  if (!discount.ok) return { code: "AMOUNT_NOT_NUMBER", text: wanted.discount };
  const amount =
    wanted.amount.trim() === ""
      ? { ok: true as const, amount: minor(left - discount.amount) }
      : readAmount(wanted.amount, currency);
  if (!amount.ok) return { code: "AMOUNT_NOT_NUMBER", text: wanted.amount };
  const taken = minor(amount.amount + discount.amount);
  if (amount.amount < 0n || discount.amount < 0n || taken === 0n || taken > left)
    return { code: "ITEM_OVERALLOCATED", wanted: taken, left, currency };
  if (discount.amount > 0n && (!owed || item.paidBack))
    return { code: "INVALID", what: "A credit note has no discount" };
  return {
    item: item.id,
    reference: item.reference,
    account: item.account,
    taken: minor(owed ? -taken : taken),
    functional: part(item, taken).functional,
    discount: discount.amount,
    lost: discountLost(item, taken, discount.amount),
  };
}

/**
 * A payment by itself as the items of a run. `own` gives amounts of its currency in functional
 * ones.
 */
export function singlePaymentItems(
  paid: Pick<SinglePayment, "items" | "lines">,
  of: { payee: string; refund: boolean; currency: string; own(amount: bigint): Minor },
): RunItem[] {
  const money = (n: bigint): string => `${amountText(minor(n), of.currency)} ${of.currency}`;
  const shown = (key: string, label: string, n: bigint, before: Step[]): RunItem => ({
    key,
    group: of.payee,
    label,
    amount: of.own(n),
    why: of.refund ? "refund, entered by hand" : "entered by hand",
    drafts: [0],
    explanation: {
      title: label,
      steps: [...before, { label: n < 0n ? "Comes in" : "Paid", text: money(n), total: true }],
    },
  });
  return [
    ...paid.items.map((i) =>
      shown(paymentItemKey(i.item), i.reference, -i.taken - i.discount, [
        { label: "Settled", text: money(-i.taken) },
        ...(i.discount > 0n ? [{ label: "Discount", text: money(-i.discount) }] : []),
      ]),
    ),
    ...paid.lines.map((l, i) => ({
      ...shown(`line|${i + 1}`, `${l.line.account} ${l.line.description}`.trim(), l.amount, []),
      takes: false as const,
    })),
  ];
}
