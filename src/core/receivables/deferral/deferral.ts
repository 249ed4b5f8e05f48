import {
  addDays,
  addMonths,
  dateText,
  daysBetween,
  endOfMonth,
  minor,
  proportion,
  readDate,
  type CalendarDate,
  type Found,
  type Minor,
} from "../../shared";

/** How what was invoiced ahead becomes revenue: in equal parts by month, or by days. */
export const DEFERRAL_METHODS = ["months", "days"] as const;
export type DeferralMethod = (typeof DEFERRAL_METHODS)[number];
export const DEFERRAL_METHOD_NAMES: Readonly<Record<DeferralMethod, string>> = {
  months: "in equal parts, one for each month that begins",
  days: "by days",
};

/** Where revenue waits until it is earned, and how it is earned. */
export interface DeferralPolicy {
  /** A liability: what is still owed to customers in services (IFRS 15.106). */
  account: string;
  method: DeferralMethod;
}

/** The time over which something is earned; both days are in it. */
export interface EarnedOver {
  from: CalendarDate;
  to: CalendarDate;
}

/**
 * The time over which a line is earned, as written; null where none is. Errors at their cells: a day
 * that is none, only one of the two, an end before the beginning.
 */
export function readEarnedOver(
  written: { earnedFrom: string; earnedTo: string },
  near: CalendarDate,
): { over: EarnedOver | null; problem: Found | null } {
  const [first, last] = [written.earnedFrom.trim(), written.earnedTo.trim()];
  const fault = (problem: Found) => ({ over: null, problem });
  if (first === "" && last === "") return { over: null, problem: null };
  const from = readDate(first, near);
  if (from === null)
    return fault(
      first === ""
        ? { code: "INVALID", what: "Say from when on it is earned", field: "earnedFrom" }
        : { code: "DATE_INVALID", text: first, field: "earnedFrom" },
    );
  const to = readDate(last, near);
  if (to === null)
    return fault(
      last === ""
        ? { code: "INVALID", what: "Say until when it is earned", field: "earnedTo" }
        : { code: "DATE_INVALID", text: last, field: "earnedTo" },
    );
  return to < from
    ? fault({
        code: "INVALID",
        what: `It ends before it begins, on ${dateText(from)}`,
        field: "earnedTo",
      })
    : { over: { from, to }, problem: null };
}

/**
 * How many months a time has, each beginning on the day of the month on which it begins; the last
 * one counts though it is not whole.
 *
 * @example monthsOf({ from: "2026-11-15", to: "2027-11-14" }) // 12
 */
export function monthsOf({ from, to }: EarnedOver): number {
  let n = 1;
  while (addMonths(from, n) <= to) n++;
  return n;
}

/**
 * What of a deferred amount is earned by the end of a day (IFRS 15.B18, the time that has passed):
 * by months, an equal part for each month of it that has begun, at the end of the calendar month in
 * which it begins; by days, in proportion to the days.
 * Units: minor units, signed like the amount. Rounding: half away from zero, of the sum so far, so
 * that all parts come to the amount whatever days are looked at.
 */
export function earnedBy(
  amount: Minor,
  over: EarnedOver,
  method: DeferralMethod,
  day: CalendarDate,
): Minor {
  if (method === "days") {
    if (day < over.from) return minor(0n);
    const whole = daysBetween(over.from, addDays(over.to, 1));
    const passed = Math.min(whole, daysBetween(over.from, addDays(day, 1)));
    return proportion(amount, BigInt(passed), BigInt(whole));
  }
  const months = monthsOf(over);
  let begun = 0;
  while (begun < months && endOfMonth(addMonths(over.from, begun)) <= day) begun++;
  return proportion(amount, BigInt(begun), BigInt(months));
}

/**
 * What of a deferred amount is to be released on a day, where so much was released before. What was
 * released by a later day is not taken back: then it is nothing.
 * Units: minor units, signed like the amount.
 */
export function toRelease(
  amount: Minor,
  over: EarnedOver,
  method: DeferralMethod,
  day: CalendarDate,
  released: Minor,
): Minor {
  const due = earnedBy(amount, over, method, day) - released;
  return minor(due < 0n === amount < 0n ? due : 0n);
}
