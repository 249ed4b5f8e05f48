import {
  addMonths as plusMonths,
  format,
  isValid,
  lastDayOfMonth,
  parse,
  parseISO,
} from "date-fns";

/** A calendar date without time zone, as YYYY-MM-DD (ISO 8601). Text order is date order. */
export type CalendarDate = string;

/**
 * Whether the text is a date that exists: 2026-02-31 is not. Years 1900 to 2199, so that a slip in
 * the year is caught.
 */
export function isCalendarDate(text: string): boolean {
  // By hand, and not by the library: large files have hundreds of thousands of dates.
  const parts = /^((?:19|20|21)\d\d)-(\d\d)-(\d\d)$/.exec(text);
  if (!parts) return false;
  const [year, month, day] = [Number(parts[1]), Number(parts[2]), Number(parts[3])];
  const isLeap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  const days = month === 2 ? (isLeap ? 29 : 28) : [4, 6, 9, 11].includes(month) ? 30 : 31;
  return month >= 1 && month <= 12 && day >= 1 && day <= days;
}

const TYPED = [
  "d MMM yyyy",
  "d MMMM yyyy",
  "d.M.yyyy",
  "d/M/yyyy",
  "d-M-yyyy",
  "yyyy/M/d",
  "yyyyMMdd",
  "yyyy-M-d",
  "d MMM",
  "d.M.",
  "d.M",
  "d/M",
] as const;

/**
 * Reads a date as typed: "31 Oct 2026", "31.10.2026", "31/10/2026" (day first), "2026-10-31";
 * without a year, the year of `near`.
 * Returns null where no such date exists.
 */
export function readDate(text: string, near: CalendarDate): CalendarDate | null {
  const typed = text.trim().replace(/\s+/g, " ");
  if (isCalendarDate(typed)) return typed;
  if (!/^[\dA-Za-z ./-]{3,20}$/.test(typed)) return null;
  for (const pattern of TYPED) {
    const date = parse(typed, pattern, parseISO(near));
    if (!isValid(date)) continue;
    const result = format(date, "yyyy-MM-dd");
    if (isCalendarDate(result)) return result;
  }
  return null;
}

/** A date for people: 31 Oct 2026. Text that is no date is given back as it is. */
export const dateText = (date: CalendarDate): string =>
  isCalendarDate(date) ? format(parseISO(date), "d MMM yyyy") : date;
/** A date for people where the year is known from around it: 31 Oct. */
export const dayText = (date: CalendarDate): string =>
  isCalendarDate(date) ? format(parseISO(date), "d MMM") : date;
export const monthName = (date: CalendarDate): string => format(parseISO(date), "LLL");
/** By the count of days, and not by the library: large runs ask for hundreds of thousands. */
export const addDays = (date: CalendarDate, days: number): CalendarDate =>
  new Date((dayNumber(date) + days) * DAY).toISOString().slice(0, 10);
export const addMonths = (date: CalendarDate, months: number): CalendarDate =>
  format(plusMonths(parseISO(date), months), "yyyy-MM-dd");
export const endOfMonth = (date: CalendarDate): CalendarDate =>
  format(lastDayOfMonth(parseISO(date)), "yyyy-MM-dd");
/** 0 for Sunday to 6 for Saturday. */
export const dayOfWeek = (date: CalendarDate): number => parseISO(date).getDay();
/** Days from `a` to `b`: positive when b is later. */
export const daysBetween = (a: CalendarDate, b: CalendarDate): number =>
  dayNumber(b) - dayNumber(a);

const DAY = 24 * 60 * 60 * 1000;
/** Days since 1 January 1970: in universal time every day has as many hours. */
const dayNumber = (date: CalendarDate): number =>
  Date.UTC(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8, 10))) / DAY;

/**
 * Reads an instant as programs write it (ISO 8601, UTC where no zone is given); a date alone means
 * the end of that day. Null where it is none.
 */
export function readInstant(text: string): Date | null {
  const body = text.trim();
  if (isCalendarDate(body)) return new Date(`${body}T23:59:59.999Z`);
  const parts = /^(\d{4}-\d{2}-\d{2})T\d{2}:\d{2}(:\d{2}(\.\d{1,6})?)?(Z|[+-]\d{2}:\d{2})?$/.exec(
    body,
  );
  if (!parts || !isCalendarDate(parts[1]!)) return null;
  const at = new Date(parts[4] ? body : `${body}Z`);
  return Number.isNaN(at.getTime()) ? null : at;
}
