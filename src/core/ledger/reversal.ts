import { minor, negate, type CalendarDate, type Minor } from "../shared";
import { periodKey, stateOf, type Period } from "../organisation";
import type { JournalDraft, Side } from "./types";

/** What a reversal needs of the posted journal. */
export interface PostedForReversal {
  id: number;
  number: string;
  company: string;
  type: string;
  book: string | null;
  date: CalendarDate;
  period: Period;
  description: string;
  reference: string;
  closing: boolean;
  /**
   * Where the journal is itself a reversal on a set day: that day. Undoing it makes the reversal
   * due again.
   */
  dueAgain: CalendarDate | null;
  /** The journal's currency where it is not the functional one. */
  currency: string | null;
  lines: readonly {
    account: string;
    dimensions: Readonly<Record<string, string>>;
    description: string;
    side: Side;
    amount: Minor;
    currency: string;
    foreignAmount: Minor;
    rate: string | null;
    counterparty: string | null;
    quantity: bigint | null;
    units: boolean;
    partner: string | null;
    dueDate: string | null;
    difference?: boolean;
  }[];
}

/**
 * The journal that undoes a posted one: by swapped sides, or by negative amounts on the same sides
 * so that turnover stays right too.
 * Units: minor units, exact.
 */
export function reversalOf(
  posted: PostedForReversal,
  date: CalendarDate,
  period: string | undefined,
  mode: "swap" | "negative",
): JournalDraft {
  const several = new Set(posted.lines.filter((l) => !l.units).map((l) => l.currency)).size > 1;
  const turned = (amount: Minor): Minor => (mode === "negative" ? negate(amount) : amount);
  return {
    company: posted.company,
    type: posted.type,
    book: posted.book,
    date,
    ...(period ? { period } : {}),
    description: `Reversal of ${posted.number}: ${posted.description}`.slice(0, 200),
    reference: posted.reference,
    reverses: posted.id,
    ...(posted.dueAgain && posted.dueAgain >= date ? { reverseOn: posted.dueAgain } : {}),
    closing: posted.closing,
    ...(posted.currency && !several ? { currency: posted.currency } : {}),
    lines: posted.lines.map((l) => ({
      account: l.account,
      dimensions: l.dimensions,
      description: l.description,
      side: mode === "negative" ? l.side : l.side === "debit" ? "credit" : "debit",
      amount: l.units ? minor(0n) : turned(l.amount),
      ...(posted.currency && !l.units ? { foreignAmount: turned(l.foreignAmount) } : {}),
      ...(several && !l.units ? { currency: l.currency } : {}),
      ...(l.rate ? { rate: l.rate } : {}),
      ...(l.counterparty ? { counterparty: l.counterparty } : {}),
      ...(l.quantity === null
        ? {}
        : { quantity: l.units ? turned(minor(l.quantity)) : minor(-l.quantity) }),
      ...(l.partner ? { partner: l.partner } : {}),
      ...(l.dueDate ? { dueDate: l.dueDate } : {}),
      // What left no open item leaves none when it is undone.
      ...(l.difference ? { added: "difference" as const } : {}),
    })),
  };
}

/**
 * The date of a reversal: the original date if its period is open, else the first open day after
 * it.
 * Open means open in the ledger in every book given (those that the journal belongs to). Null where
 * nothing is open.
 */
export function reversalDate(
  original: { date: CalendarDate; period: Period },
  periods: readonly Period[],
  bookIds: readonly number[],
): { date: CalendarDate; period?: string } | null {
  const isOpen = (p: Period): boolean => bookIds.every((b) => stateOf(p, b, "ledger") === "open");
  const own = periods.find(
    (p) => p.yearId === original.period.yearId && p.no === original.period.no,
  );
  if (own && isOpen(own))
    return own.adjustment
      ? { date: original.date, period: periodKey(own) }
      : { date: original.date };
  const next = periods
    .filter((p) => !p.adjustment && p.start > original.date && isOpen(p))
    .sort((a, b) => (a.start < b.start ? -1 : 1))[0];
  return next ? { date: next.start } : null;
}

interface ToReverse {
  date: CalendarDate;
  period: Period;
  /** Of its company. */
  periods: readonly Period[];
  bookIds: readonly number[];
}

/**
 * The date on which journals that were posted together are undone together: their own while all of
 * their companies have it open, else the first day after it that is open in all of them. Otherwise
 * what one company is owed and the other owes would differ over the days between.
 */
export function reversalDateTogether(
  journals: readonly ToReverse[],
): { date: CalendarDate; period?: string } | null {
  const own = journals.map((j) => reversalDate(j, j.periods, j.bookIds));
  if (own.some((o) => o === null)) return null;
  if (own.every((o, i) => o!.date === journals[i]!.date)) return own[0]!;
  let date = own
    .map((o) => o!.date)
    .sort()
    .at(-1)!;
  for (;;) {
    const later = journals.map((j) => firstOpenDay(j, date));
    if (later.some((d) => d === null)) return null;
    const latest = (later as CalendarDate[]).sort().at(-1)!;
    if (latest === date) return { date };
    date = latest;
  }
}

/** The first day on or after a day that is open in the ledger, in every book of a journal. */
export function firstOpenDay(
  { periods, bookIds }: Pick<ToReverse, "periods" | "bookIds">,
  from: CalendarDate,
): CalendarDate | null {
  const open = periods
    .filter((p) => !p.adjustment && p.end >= from)
    .filter((p) => bookIds.every((b) => stateOf(p, b, "ledger") === "open"))
    .sort((a, b) => (a.start < b.start ? -1 : 1))[0];
  return open ? (open.start > from ? open.start : from) : null;
}
