import type { DraftLine, JournalDraft, OpenItemKind } from "../ledger";
import { convertBy, type Conversion } from "../rates";
import { fail, minor, ok, signedLine, type CalendarDate, type Minor, type Result } from "../shared";
import { part, type AllocationLine, type ItemLeft } from "./settle";

/** An item with what it is called and when it is due. */
export interface ItemToRestate extends ItemLeft {
  kind: OpenItemKind;
  reference: string;
  dueDate: CalendarDate;
}

/** What an item, or a part of it, is owed as from a day on. */
export interface Restatement {
  date: CalendarDate;
  /** Positive, in minor units of the item's currency. */
  taken: Minor;
  currency: string;
  /** Positive, in minor units of that currency. */
  amount: Minor;
  /** From that currency into the company's, on that day. */
  rate: Conversion;
}

/**
 * The journal by which an item is owed in another currency from a day on: what it was is taken out
 * at what it is carried at, what it is becomes an item of the same kind, name and due date at the
 * day's rate, and between them lies a realised exchange difference (IAS 21.28).
 * Units: minor units, each line in its own currency, balanced in the company's. Rounding: as
 * `part` and `convert`. Its first line leaves the item that settles the old one.
 * Errors: ITEM_OVERALLOCATED; INVALID where the currency is the item's own or the amount nothing;
 * PURPOSE_MISSING.
 */
export function restatement(
  item: ItemToRestate,
  to: Restatement,
  company: {
    code: string;
    currency: string;
    type: string;
    exchangeGain: string | undefined;
    exchangeLoss: string | undefined;
  },
): Result<{ draft: JournalDraft; takes: AllocationLine; difference: Minor }> {
  const most = minor(item.left < 0n ? -item.left : item.left);
  if (to.currency === item.currency)
    return fail({
      code: "INVALID",
      what: `${item.reference} is owed in ${item.currency} already`,
      field: "currency",
    });
  if (to.taken <= 0n || to.taken > most)
    return fail({
      code: "ITEM_OVERALLOCATED",
      wanted: to.taken,
      left: most,
      currency: item.currency,
      field: "taken",
    });
  const sign = item.left < 0n ? -1n : 1n;
  const functional = minor(sign * convertBy(to.amount, to.currency, company.currency, to.rate));
  if (to.amount <= 0n || functional === 0n)
    return fail({ code: "INVALID", what: "It comes to nothing there", field: "amount" });
  const takes = part(item, to.taken);
  const difference = minor(takes.functional - functional);
  const account = difference > 0n ? company.exchangeLoss : company.exchangeGain;
  if (difference !== 0n && !account)
    return fail({ code: "PURPOSE_MISSING", purpose: "exchange differences" });
  const sides = (currency: string, amount: bigint, foreign: bigint) =>
    signedLine(company.currency, currency, amount, foreign);
  const own = { account: item.account, partner: item.partner, dimensions: {} };
  const lines: DraftLine[] = [
    {
      ...own,
      ...sides(item.currency, -takes.functional, -takes.amount),
      description: `${item.reference}, owed in ${to.currency} from here`,
      dueDate: to.date,
      item: { kind: "journal", reference: item.reference },
    },
    {
      ...own,
      ...sides(to.currency, functional, sign * to.amount),
      ...(to.rate === "same" ? {} : to.rate),
      description: `${item.reference}, owed in ${item.currency} until here`,
      dueDate: item.dueDate,
      item: { kind: item.kind, reference: item.reference },
    },
  ];
  if (difference !== 0n)
    lines.push({
      account: account!,
      dimensions: {},
      ...sides(company.currency, difference, difference),
      description: `Exchange difference of ${item.reference}`,
    });
  return ok({
    draft: {
      company: company.code,
      type: company.type,
      book: null,
      date: to.date,
      description: `${item.reference} is owed in ${to.currency} instead of ${item.currency}`,
      reference: item.reference,
      lines,
    },
    takes,
    difference,
  });
}
