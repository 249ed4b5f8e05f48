import type { DraftLine, JournalDraft } from "../ledger";
import { convertBy } from "../rates";
import { decimalText, minor, proportion, type CalendarDate, type Minor } from "../shared";
import { type PlannedPayment } from "./paymentPlan";
import type { TaxTakenBack } from "../taxes";

/** Where the parts of a payment are posted. */
export interface PaymentAccounts {
  company: string;
  functional: string;
  underWay: string;
  discount: string;
  exchangeGain: string;
  exchangeLoss: string;
}

/**
 * What a payment pays besides items: a coding, in minor units of its currency, positive for what is
 * paid.
 */
export interface CodedPart {
  line: Omit<DraftLine, "side" | "amount" | "foreignAmount" | "rate">;
  amount: Minor;
}

/**
 * What a payment leaves on the account of money under way: an item that the bank clears, in part
 * too.
 */
export const underWayItem = (
  payment: Pick<PlannedPayment, "partner">,
  date: CalendarDate,
): Pick<DraftLine, "partner" | "dueDate" | "item"> => ({
  ...(payment.partner ? { partner: payment.partner } : {}),
  dueDate: date,
  item: { kind: "payment", reference: `Payment ${date}` },
});

/**
 * The journal of a payment: the supplier by control account at what its items are carried at, what
 * leaves the bank at the day's rate, the discount without the tax that it takes
 * back, and what remains as a realised exchange difference (IAS 21.28). Both currencies balance.
 */
export function journalOfPayment(
  payment: PlannedPayment,
  date: CalendarDate,
  taken: readonly TaxTakenBack[],
  to: PaymentAccounts,
  coded: readonly CodedPart[] = [],
): JournalDraft {
  const { currency, rate } = payment;
  const foreign = currency !== to.functional;
  const lines: DraftLine[] = [];
  let rest = 0n;
  const add = (
    line: Omit<DraftLine, "side" | "amount" | "foreignAmount" | "rate">,
    signed: bigint,
    signedForeign: bigint,
  ) => {
    if (signed === 0n && signedForeign === 0n) return;
    rest += signed;
    const side =
      (signed === 0n ? signedForeign : signed) > 0n ? ("debit" as const) : ("credit" as const);
    const turn = side === "debit" ? 1n : -1n;
    lines.push({
      ...line,
      side,
      amount: minor(turn * signed),
      ...(foreign
        ? { foreignAmount: minor(turn * signedForeign), ...(rate === "same" ? {} : rate) }
        : {}),
    });
  };
  const own = (amount: bigint): bigint => convertBy(minor(amount), currency, to.functional, rate);
  const credit = (line: Omit<DraftLine, "side" | "amount">, amount: bigint) =>
    add(line, -own(amount), -amount);
  for (const account of [...new Set(payment.items.map((i) => i.account))]) {
    const of = payment.items.filter((i) => i.account === account);
    add(
      {
        account,
        dimensions: {},
        description: `To ${payment.payee}`,
        partner: payment.partner,
        dueDate: date,
        item: { kind: "payment", reference: `Payment ${date}` },
      },
      -of.reduce((t, i) => t + i.functional, 0n),
      -of.reduce((t, i) => t + i.taken, 0n),
    );
  }
  credit(
    {
      account: to.underWay,
      dimensions: {},
      description: `To ${payment.payee}, ${payment.method}`,
      ...underWayItem(payment, date),
    },
    payment.amount,
  );
  let discount: bigint = payment.discount;
  for (const t of taken) {
    const description = `${t.code} taken back on a discount of ${decimalText(payment.discount, currency)}`;
    const line = { dimensions: {}, description };
    const recovered = proportion(t.functionalTax, t.recoverable, t.tax < 0n ? -t.tax : t.tax);
    add({ ...line, account: t.account }, t.tax < 0n ? recovered : -recovered, -t.recoverable);
    discount -= t.recoverable;
    if (!t.reverse) continue;
    add({ ...line, account: t.owedAccount }, t.functionalTax, t.tax);
    discount += t.tax;
  }
  credit(
    { account: to.discount, dimensions: {}, description: `Discount, ${payment.payee}` },
    discount,
  );
  for (const c of coded) add(c.line, own(c.amount), c.amount);
  if (rest !== 0n)
    add(
      {
        account: rest > 0n ? to.exchangeGain : to.exchangeLoss,
        dimensions: {},
        description: "Exchange difference of settled items",
      },
      -rest,
      0n,
    );
  return {
    company: to.company,
    type: "payment",
    book: null,
    date,
    ...(foreign ? { currency } : {}),
    description: `Payment to ${payment.payee}`.slice(0, 200),
    reference: payment.items.length === 1 ? payment.items[0]!.reference.slice(0, 60) : "",
    lines,
  };
}
