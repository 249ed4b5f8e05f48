import type { CalendarDate } from "../shared";
import { elapsed, firstOfMonth, isMonthEnd, monthIndex, type Clock } from "./clock";
import { fiscalYearOf, type FiscalSpan } from "./fiscalYears";
import type { DepreciationRule, Pause } from "./rule";

/** A part of a whole, exactly. */
export interface Share {
  n: bigint;
  d: bigint;
}
const NOTHING: Share = { n: 0n, d: 1n };
const ALL: Share = { n: 1n, d: 1n };

/** A place in the time of use, and the last day that lies wholly before it. */
export interface Moment {
  place: number;
  day: CalendarDate;
}

export interface Usage {
  on: CalendarDate;
  units: string;
}

/** What the share that is charged by a moment rests on. */
export interface SharedOut {
  rule: DepreciationRule;
  clock: Clock;
  inService: CalendarDate;
  pauses: readonly Pause[];
  usage: readonly Usage[];
  years: readonly FiscalSpan[];
}

/**
 * Which part of the whole that is to be charged has been charged by a moment, from nothing to all;
 * for every method but declining balance, whose years rest on each other.
 */
export function shareBy(of: SharedOut, moment: Moment): Share {
  if (of.rule.method === "none" || moment.day < of.inService) return NOTHING;
  switch (of.rule.method) {
    case "at once":
      return ALL;
    case "by law":
      return byLaw(of, moment.day);
    case "by plan":
      return byPlan(of.rule, moment.day);
    case "units of production":
      return byUnits(of, moment.day);
    case "sum of digits":
      return byDigits(of, moment);
    default:
      return byTime(of, moment);
  }
}

const cut = (n: bigint, d: bigint): Share =>
  d <= 0n || n >= d ? ALL : n <= 0n ? NOTHING : { n, d };

export function byTime({ clock, pauses }: SharedOut, moment: Moment): Share {
  return cut(BigInt(elapsed(clock, moment.place, pauses)), BigInt(clock.life));
}

/**
 * The sum of the years' digits: of a life of n years the first counts n, the last one 1; a year that
 * is not whole counts for its part.
 */
function byDigits(of: SharedOut, moment: Moment): Share {
  const { clock, pauses } = of;
  const { life: months } = of.rule;
  const passed = BigInt(Math.min(clock.life, elapsed(clock, moment.place, pauses)));
  const whole = BigInt(clock.life);
  if (whole === 0n) return ALL;
  const years = Math.ceil(months / 12);
  const digit = (year: number) => BigInt(years - year);
  const lengthOf = (year: number) => BigInt(Math.min(12, months - 12 * year));
  // In months, over the length of the life in the clock's units.
  const done = passed * BigInt(months);
  let n = 0n;
  let d = 0n;
  for (let year = 0; year < years; year++) {
    const begins = BigInt(12 * year) * whole;
    const length = lengthOf(year) * whole;
    const within = done - begins;
    n += digit(year) * (within <= 0n ? 0n : within >= length ? length : within);
    d += digit(year) * length;
  }
  return cut(n, d);
}

/** Ten-thousandths of a per cent. */
export function percentUnits(text: string): bigint {
  const [whole = "0", part = ""] = text.trim().split(".");
  return BigInt((whole || "0") + part.padEnd(4, "0").slice(0, 4));
}

/**
 * Each fiscal year's per cent, in equal parts over those of its months in which the asset is used;
 * the last one takes what the others leave of the whole.
 */
function byLaw({ rule, inService, years }: SharedOut, day: CalendarDate): Share {
  const percents = rule.percents.map(percentUnits);
  const sum = percents.reduce((t, p) => t + p, 0n);
  const through = monthIndex(day) + (isMonthEnd(day) ? 1 : 0);
  let begin = monthIndex(inService);
  let done = NOTHING;
  for (const [place, percent] of percents.entries()) {
    const fiscal = fiscalYearOf(firstOfMonth(begin), years);
    const end = monthIndex(fiscal.last) + 1;
    const before = percents.slice(0, place).reduce((t, p) => t + p, 0n);
    const months = BigInt(end - begin);
    const within = BigInt(Math.max(0, Math.min(through, end) - begin));
    done = cut(before * months + percent * within, sum * months);
    if (through <= end) return done;
    begin = end;
  }
  return done;
}

function byPlan({ plan }: DepreciationRule, day: CalendarDate): Share {
  const month = isMonthEnd(day) ? day.slice(0, 7) : firstOfMonth(monthIndex(day) - 1).slice(0, 7);
  const sum = (rows: typeof plan) => rows.reduce((t, r) => t + BigInt(r.amount), 0n);
  return cut(sum(plan.filter((r) => r.month <= month)), sum(plan));
}

function byUnits({ rule, usage }: SharedOut, day: CalendarDate): Share {
  const used = usage.reduce((t, u) => (u.on <= day ? t + percentUnits(u.units) : t), 0n);
  return cut(used, percentUnits(rule.units));
}
