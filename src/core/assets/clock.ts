import type { CalendarDate } from "../shared";
import { fiscalYearOf, type FiscalSpan } from "./fiscalYears";
import type { Convention, Pause } from "./rule";

/**
 * The time of use as a convention measures it: half months where it counts months, days or parts of
 * them where it counts days. Whole numbers, so that shares of a life are exact.
 */
export interface Clock {
  /** Where the life begins. */
  start: number;
  /** As long as the life is. */
  life: number;
  /** As long as a year is. */
  year: number;
  /** Where the end of a day is. */
  at(day: CalendarDate): number;
  /** From where on something counts that happens on a day. */
  from(day: CalendarDate): number;
  /** A length in words: “14 of 60 months”. */
  words(length: number, of: number): string;
}

const yearIn = (day: CalendarDate) => Number(day.slice(0, 4));
const monthIn = (day: CalendarDate) => Number(day.slice(5, 7));
const dayIn = (day: CalendarDate) => Number(day.slice(8, 10));
const isLeap = (year: number) => (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
const daysOfMonth = (year: number, month: number) =>
  month === 2 ? (isLeap(year) ? 29 : 28) : [4, 6, 9, 11].includes(month) ? 30 : 31;
/** Months since the year 0. */
export const monthIndex = (day: CalendarDate): number => yearIn(day) * 12 + monthIn(day) - 1;
/** The first day of a month by its index. */
export const firstOfMonth = (index: number): CalendarDate =>
  `${Math.floor(index / 12)}-${String((index % 12) + 1).padStart(2, "0")}-01`;
export const isMonthEnd = (day: CalendarDate) =>
  dayIn(day) === daysOfMonth(yearIn(day), monthIn(day));
const dayNumber = (day: CalendarDate) =>
  Date.UTC(yearIn(day), monthIn(day) - 1, dayIn(day)) / 86_400_000;
/** The day number of the same day so many months later; of shorter months the last. */
function dayNumberAfter(day: CalendarDate, months: number): number {
  const index = monthIndex(day) + months;
  const [year, month] = [Math.floor(index / 12), (index % 12) + 1];
  const last = Math.min(dayIn(day), daysOfMonth(year, month));
  return Date.UTC(year, month - 1, last) / 86_400_000;
}

/** The clock of a convention for something that is used from a day on, for so many months. */
export function clockOf(
  convention: Convention,
  inService: CalendarDate,
  life: number,
  years: readonly FiscalSpan[],
): Clock {
  switch (convention) {
    case "actual days": {
      const start = dayNumber(inService);
      const whole = dayNumberAfter(inService, life) - start;
      return daysClock(start, whole, life === 0 ? 365 : (whole * 12) / life, 1);
    }
    case "actual/365":
      return daysClock(dayNumber(inService) * 12, life * 365, 12 * 365, 12);
    case "actual/actual":
      return yearsClock(inService, life);
    case "30/360":
      return thirtiesClock(inService, life);
    default:
      return monthsClock(convention, inService, life, years);
  }
}

function monthsClock(
  convention: Convention,
  inService: CalendarDate,
  life: number,
  years: readonly FiscalSpan[],
): Clock {
  const at = (day: CalendarDate) => (monthIndex(day) + (isMonthEnd(day) ? 1 : 0)) * 2;
  const from = (day: CalendarDate) => {
    const first = monthIndex(day) * 2;
    if (convention === "next month") return first + 2;
    if (convention === "half month") return dayIn(day) <= 15 ? first : first + 2;
    if (convention === "mid-month") return first + 1;
    return first;
  };
  return {
    start: startOf(),
    life: life * 2,
    year: 24,
    at,
    from,
    words: (length, of) => `${halves(length)} of ${halves(of)} months`,
  };

  function startOf(): number {
    if (convention !== "half year" && convention !== "mid-quarter") return from(inService);
    const fiscal = fiscalYearOf(inService, years);
    const first = monthIndex(fiscal.first);
    if (convention === "half year") return first * 2 + (monthIndex(fiscal.last) + 1 - first);
    const quarter = Math.floor((monthIndex(inService) - first) / 3);
    return (first + quarter * 3) * 2 + 3;
  }
}

const halves = (length: number) => (length % 2 === 0 ? String(length / 2) : `${length / 2}`);

function daysClock(start: number, life: number, year: number, scale: number): Clock {
  return {
    start,
    life,
    year,
    at: (day) => (dayNumber(day) + 1) * scale,
    from: (day) => dayNumber(day) * scale,
    words: (length, of) => `${whole(length / scale)} of ${whole(of / scale)} days`,
  };
}

const whole = (length: number) => String(Math.round(length * 100) / 100);

/** 365 × 366 parts to a year, so that a day of either kind of year is a whole number of them. */
const PARTS = 365 * 366;

function yearsClock(inService: CalendarDate, life: number): Clock {
  const before = (day: CalendarDate) => {
    const year = yearIn(day);
    const passed = dayNumber(day) - Date.UTC(year, 0, 1) / 86_400_000;
    return year * PARTS + passed * (isLeap(year) ? 365 : 366);
  };
  const each = (day: CalendarDate) => (isLeap(yearIn(day)) ? 365 : 366);
  return {
    start: before(inService) * 12,
    life: life * PARTS,
    year: 12 * PARTS,
    at: (day) => (before(day) + each(day)) * 12,
    from: (day) => before(day) * 12,
    words: (length, of) =>
      `${whole(length / (12 * PARTS))} of ${whole(of / (12 * PARTS))} years, by days`,
  };
}

/** 30 days to each month: the 31st is the 30th, and the last of February is the end of its month. */
function thirtiesClock(inService: CalendarDate, life: number): Clock {
  const before = (day: CalendarDate) => monthIndex(day) * 30 + Math.min(dayIn(day), 30) - 1;
  return {
    start: before(inService),
    life: life * 30,
    year: 360,
    at: (day) => (isMonthEnd(day) ? (monthIndex(day) + 1) * 30 : before(day) + 1),
    from: before,
    words: (length, of) => `${length} of ${of} days, 30 to a month`,
  };
}

/** How much of the life has passed by a place of the clock, without what was paused. */
export function elapsed(clock: Clock, place: number, pauses: readonly Pause[]): number {
  const passed = Math.max(0, place - clock.start);
  const paused = pauses.reduce((sum, { from, to }) => {
    const first = Math.max(clock.start, clock.from(from));
    return sum + Math.max(0, Math.min(place, clock.at(to)) - first);
  }, 0);
  return Math.max(0, passed - paused);
}
