import type { CalendarDate } from "./calendarDate";

const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

/**
 * A text with what a date puts into it: {yyyy}, {yy}, {mm}, {month}, {q} and {n}, the count from
 * the first date on.
 */
export const fillPattern = (pattern: string, date: CalendarDate, n: number): string =>
  pattern.replace(
    /\{(yyyy|yy|mm|month|q|n)\}/g,
    (_whole, key: string) =>
      ({
        yyyy: date.slice(0, 4),
        yy: date.slice(2, 4),
        mm: date.slice(5, 7),
        month: MONTHS[Number(date.slice(5, 7)) - 1]!,
        q: `Q${Math.ceil(Number(date.slice(5, 7)) / 3)}`,
        n: String(n),
      })[key] ?? "",
  );
