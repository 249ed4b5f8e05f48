import {
  addDays,
  amountText,
  dateText,
  daysBetween,
  minor,
  proportion,
  type CalendarDate,
  type Minor,
} from "../../shared";
import { heldBack } from "../desk/heldBack";
import { lateInterest, type LateRate } from "./interest";
import type { ReminderProcedure } from "./procedure";

/** An overdue item of a customer; a credit has less than nothing left. */
export interface RemindableItem {
  id: number;
  due: CalendarDate;
  /** What is left of it, in its own currency and in the company's. */
  left: Minor;
  functional: Minor;
  /** Of what is left, in its own currency. */
  disputed: Minor;
  promised: Minor;
  promisedFor: CalendarDate | null;
  /** The last level that went out for it, and when; 0 for none. */
  level: number;
  remindedOn: CalendarDate | null;
  /** Up to when interest has been charged. */
  interestTo: CalendarDate | null;
  /** Whether it is a fee or interest itself, on which no interest is charged. */
  charge: boolean;
}

/** What becomes of an item in a reminder. */
export interface RemindedItem {
  id: number;
  /** 0 for a credit, which has no level. */
  level: number;
  /** What is asked for, in its own currency and in the company's. */
  amount: Minor;
  functional: Minor;
  interest: Minor;
  why: string;
  /** Why it is not in the letter. */
  leftOut: string | null;
}

export interface Reminder {
  items: RemindedItem[];
  /** The highest of its items; 0 where nothing is sent. */
  level: number;
  /** In the company's currency. */
  total: Minor;
  fee: Minor;
  interest: Minor;
  /** Whether a day of interest has no rate: then none is charged. */
  rateMissing: boolean;
}

export interface RemindingOf {
  on: CalendarDate;
  currency: string;
  procedure: ReminderProcedure;
  rates: readonly LateRate[];
  /** Why nothing is sent to the customer at all; "" where it may be. */
  blocked: string;
  /** Items that a person has taken out. */
  dropped: ReadonlySet<number>;
}

/**
 * The reminder that a customer gets on a day: which of its overdue items, each at its next level,
 * with the fee of the highest and interest on all where that level charges it. What is disputed or
 * promised stays out, in part too; credits are taken off. Amounts in minor units; `minimum` and `fee`
 * were read in the company's currency. A part of an item is converted as the whole of it is.
 */
export function remind(
  items: readonly RemindableItem[],
  of: RemindingOf & { minimum: Minor; fees: readonly Minor[] },
): Reminder {
  const { procedure, on, currency, minimum } = of;
  const read = items.map((item) => ({ item, out: readItem(item, of) }));
  const asked = read.filter(({ out, item }) => out.leftOut === null && !of.dropped.has(item.id));
  const due = asked.filter(({ out }) => out.level > 0);
  const total = minor(asked.reduce((sum, { out }) => sum + out.functional, 0n));
  const stop =
    due.length === 0
      ? "nothing else of this customer is reminded"
      : total <= 0n
        ? "credits cover what is overdue"
        : total < minimum
          ? `${amountText(total, currency)} ${currency} is below the minimum of ${amountText(minimum, currency)}`
          : null;
  if (stop !== null)
    return {
      // What a person has taken out stays so, and can be put back.
      items: read.map(({ out }) =>
        out.leftOut === null && !of.dropped.has(out.id) ? { ...out, leftOut: stop } : out,
      ),
      level: 0,
      total: minor(0n),
      fee: minor(0n),
      interest: minor(0n),
      rateMissing: false,
    };
  const level = Math.max(...due.map(({ out }) => out.level));
  const charged = procedure.levels[level - 1]!.interest;
  const interests = read.map(({ item, out }) =>
    charged && out.level > 0 && out.leftOut === null && !item.charge && !of.dropped.has(item.id)
      ? lateInterest(out.functional, since(item), on, of.rates)
      : minor(0n),
  );
  const rateMissing = interests.includes(null);
  const reminded = read.map(({ out }, i): RemindedItem => ({
    ...out,
    interest: rateMissing ? minor(0n) : interests[i]!,
  }));
  const own = reminded.filter((r) => r.leftOut === null && !of.dropped.has(r.id));
  return {
    items: reminded,
    level,
    total,
    fee: of.fees[level - 1]!,
    interest: minor(own.reduce((sum, r) => sum + r.interest, 0n)),
    rateMissing,
  };
}

/** From when on interest runs: from its due date, or from where it was charged last. */
const since = ({ due, interestTo }: RemindableItem): CalendarDate =>
  interestTo !== null && interestTo > due ? interestTo : due;

function readItem(item: RemindableItem, of: RemindingOf): RemindedItem {
  const { id, left } = item;
  const none = { id, level: 0, amount: left, functional: item.functional, interest: minor(0n) };
  if (of.blocked !== "") return { ...none, why: lateness(item, of.on), leftOut: of.blocked };
  if (left <= 0n) return { ...none, why: "credit, taken off", leftOut: null };
  const free = minor(left - item.disputed - item.promised);
  const why = lateness(item, of.on);
  if (free <= 0n) return { ...none, why, leftOut: heldBack(item) };
  const wait = waiting(item, of);
  if (wait !== null) return { ...none, why, leftOut: wait };
  const kept = free === left ? "" : `; ${heldBack(item)} in part`;
  const level = item.level + 1;
  return {
    ...none,
    level,
    amount: free,
    functional: free === left ? item.functional : proportion(item.functional, free, left),
    why: `Level ${level}: ${why}${kept}`,
    leftOut: null,
  };
}

function lateness({ due, level, remindedOn }: RemindableItem, on: CalendarDate): string {
  const days = daysBetween(due, on);
  const late = `${days} ${days === 1 ? "day" : "days"} overdue`;
  return level === 0 ? late : `${late}, level ${level} on ${dateText(remindedOn!)}`;
}

/** Why an item waits for its next level; null where it does not. */
function waiting(item: RemindableItem, { procedure, on }: RemindingOf): string | null {
  const { level, remindedOn, due } = item;
  const next = procedure.levels[level];
  if (!next) return `had the last level on ${dateText(remindedOn!)}`;
  const from = addDays(level === 0 ? due : remindedOn!, next.days);
  return from <= on ? null : `level ${level + 1} comes on ${dateText(from)}`;
}
