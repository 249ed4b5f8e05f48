import type { DraftLine, JournalDraft } from "../ledger";
import { convertBy, type Conversion } from "../rates";
import { minor, signedLine, type CalendarDate, type Minor } from "../shared";
import type { LineItem, LineJournal } from "./lineJournal";

/** A line of a bank whose other side stands on an account of our own in another currency. */
export interface ExchangedLine {
  booked: CalendarDate;
  /** Positive is money in. */
  amount: Minor;
  currency: string;
  /** From its currency into the company's. */
  rate: Conversion;
  /** The bank's account in the ledger. */
  account: string;
  text: string;
}

/**
 * The journal of money that comes in another currency than it went, or goes in another than it will
 * come: the bank's account at the day's rate, what the other side has left under way at what that is
 * carried at, and between them the exchange difference that the bank's own rate has made (IAS 21.28).
 * Units: minor units; each line in its own currency, balanced in the company's. The item is taken as a
 * whole, by the first line.
 */
export function exchangeJournal(
  line: ExchangedLine,
  item: LineItem & { currency: string },
  to: { company: string; functional: string; exchangeGain: string; exchangeLoss: string },
): Omit<LineJournal, "taxes"> {
  const own = convertBy(line.amount, line.currency, to.functional, line.rate);
  const rest = own - item.leftFunctional;
  const rate = line.rate === "same" ? {} : line.rate;
  const lines: DraftLine[] = [
    {
      ...signedLine(to.functional, item.currency, -item.leftFunctional, -item.left),
      account: item.account,
      dimensions: {},
      description: item.reference.slice(0, 200),
      dueDate: line.booked,
      item: {
        kind: item.left > 0n ? "payment" : "receipt",
        reference: item.reference,
      },
    },
    {
      ...signedLine(to.functional, line.currency, own, line.amount),
      account: line.account,
      dimensions: {},
      description: (line.text || item.reference).slice(0, 200),
      ...rate,
    },
  ];
  if (rest !== 0n)
    lines.push({
      account: rest > 0n ? to.exchangeGain : to.exchangeLoss,
      dimensions: {},
      description: "Exchange difference of money between own accounts",
      side: rest > 0n ? "credit" : "debit",
      amount: minor(rest > 0n ? rest : -rest),
    });
  const draft: JournalDraft = {
    company: to.company,
    type: "bank",
    book: null,
    date: line.booked,
    description: `Exchanged, ${item.reference}`.slice(0, 200),
    reference: item.reference.slice(0, 60),
    lines,
  };
  return {
    draft,
    settles: [
      {
        item: item.id,
        reference: item.reference,
        account: item.account,
        taken: item.left,
        functional: item.leftFunctional,
        discount: minor(0n),
        lost: minor(0n),
      },
    ],
    settling: 1,
  };
}
