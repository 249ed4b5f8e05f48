import { dateText, minor, type CalendarDate, type Minor } from "../../shared";
import { heldBack } from "../desk/heldBack";
import {
  againstMandate,
  firstDayToTell,
  sequenceOf,
  type DebitSequence,
  type MandateUse,
} from "./mandate";

/** An open item of a customer with a mandate, or of whom it pays for, in euro. */
export interface DebitItem {
  id: number;
  /** Who has given the mandate. */
  payer: string;
  date: CalendarDate;
  due: CalendarDate;
  /** Positive is owed; a credit has less than nothing left. */
  left: Minor;
  disputed: Minor;
  promised: Minor;
  promisedFor: CalendarDate | null;
  /** What may be deducted on the day of the direct debit. */
  discount: Minor;
  /** The number of the run that has taken it already; null where none has. */
  takenBy: string | null;
}

export interface DebitMandate extends MandateUse {
  id: number;
  partner: string;
}

/** What becomes of an item in a run of direct debits. */
export interface DebitedItem {
  item: number;
  payer: string;
  /** Signed like the item, with the discount in it. */
  amount: Minor;
  discount: Minor;
  why: string;
  leftOut: string | null;
}

/** A direct debit: what one customer is debited, and for what. */
export interface PlannedDebit {
  mandate: number;
  payer: string;
  amount: Minor;
  sequence: DebitSequence;
  takes: readonly Pick<DebitedItem, "item" | "amount" | "discount">[];
}

export interface DebitPlan {
  items: DebitedItem[];
  debits: PlannedDebit[];
}

/** The most that one direct debit can be, in cents: eleven figures (EPC 130-08). */
const MOST = 99_999_999_999n;

/**
 * What customers are debited on a day: of each one with a mandate what is due by `upTo`, less its
 * credits, in one direct debit. What is disputed or promised stays out, in part too; discounts of
 * the day are deducted where the whole item is debited. A customer whose mandate does not hold, or
 * whom it is too late to tell, is left out with the reason.
 * Units: cents. `dropped` are items that a person has taken out; they have no `leftOut` of their own.
 */
export function proposeDebits(
  items: readonly DebitItem[],
  mandates: readonly DebitMandate[],
  of: {
    on: CalendarDate;
    upTo: CalendarDate;
    today: CalendarDate;
    dropped: ReadonlySet<number>;
  },
): DebitPlan {
  const plan: DebitPlan = { items: [], debits: [] };
  const byPayer = new Map<string, DebitItem[]>();
  for (const item of items) {
    if (item.date > of.on || (item.left > 0n && item.due > of.upTo)) continue;
    const own = byPayer.get(item.payer);
    if (own) own.push(item);
    else byPayer.set(item.payer, [item]);
  }
  for (const mandate of mandates) {
    const own = byPayer.get(mandate.partner) ?? [];
    // Credits alone are nothing to debit.
    if (!own.some((i) => i.left > 0n)) continue;
    const debited = debitOf(mandate, own, of);
    plan.items.push(...debited.items);
    if (debited.debit) plan.debits.push(debited.debit);
  }
  return plan;
}

function debitOf(
  mandate: DebitMandate,
  own: readonly DebitItem[],
  { on, today, dropped }: { on: CalendarDate; today: CalendarDate; dropped: ReadonlySet<number> },
): { items: DebitedItem[]; debit: PlannedDebit | null } {
  const stop = againstMandate(mandate, on) ?? tooLate(mandate, on, today);
  const read = own.map((item) => readItem(item, on, stop));
  const takes = read.filter((r) => r.leftOut === null && !dropped.has(r.item));
  const amount = takes.reduce((t, r) => t + r.amount - r.discount, 0n);
  const nothing = takes.every((r) => r.amount < 0n)
    ? "nothing else of this customer is debited"
    : amount <= 0n
      ? "credits cover what is due"
      : amount > MOST
        ? "it is more than one direct debit can be"
        : null;
  if (nothing !== null)
    return {
      // What a person has taken out stays so, and can be put back.
      items: read.map((r) =>
        r.leftOut === null && !dropped.has(r.item) ? { ...r, leftOut: nothing } : r,
      ),
      debit: null,
    };
  return {
    items: read,
    debit: {
      mandate: mandate.id,
      payer: mandate.partner,
      amount: minor(amount),
      sequence: sequenceOf(mandate),
      takes: takes.map(({ item, amount: taken, discount }) => ({ item, amount: taken, discount })),
    },
  };
}

/** Why it is too late to tell a customer of a direct debit on a day; null where it is not. */
function tooLate(mandate: DebitMandate, on: CalendarDate, today: CalendarDate): string | null {
  const first = firstDayToTell(today, mandate.notice);
  const days = `${mandate.notice} ${mandate.notice === 1 ? "day" : "days"}`;
  return on < first ? `it is told ${days} before: from ${dateText(first)} on` : null;
}

function readItem(item: DebitItem, on: CalendarDate, stop: string | null): DebitedItem {
  const whole = {
    item: item.id,
    payer: item.payer,
    amount: item.left,
    discount: minor(0n),
    why: `due ${dateText(item.due)}`,
    leftOut: stop,
  };
  if (stop !== null) return whole;
  if (item.takenBy !== null) return { ...whole, leftOut: `${item.takenBy} has taken it already` };
  if (item.left < 0n) return { ...whole, why: "credit, taken off" };
  const free = minor(item.left - item.disputed - item.promised);
  if (free <= 0n) return { ...whole, leftOut: heldBack(item) };
  if (free < item.left)
    return { ...whole, amount: free, why: `${whole.why}; ${heldBack(item)} in part` };
  return item.discount > 0n
    ? { ...whole, discount: item.discount, why: `${whole.why}; discount on ${dateText(on)}` }
    : whole;
}
