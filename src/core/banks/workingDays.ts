import { addDays, dayOfWeek, type CalendarDate } from "../shared";

/** Easter Sunday of a year (Gregorian computus, Meeus/Jones/Butcher). */
export function easterSunday(year: number): CalendarDate {
  const a = year % 19;
  const b = Math.floor(year / 100);
  const c = year % 100;
  const h =
    (19 * a + b - Math.floor(b / 4) - Math.floor((b - Math.floor((b + 8) / 25) + 1) / 3) + 15) % 30;
  const l = (32 + 2 * (b % 4) + 2 * Math.floor(c / 4) - h - (c % 4)) % 7;
  const m = Math.floor((a + 11 * h + 22 * l) / 451);
  const n = h + l - 7 * m + 114;
  const two = (x: number): string => String(x).padStart(2, "0");
  return `${year}-${two(Math.floor(n / 31))}-${two((n % 31) + 1)}`;
}

/**
 * Why banks do not pay on a day in a currency; null on a working day. Euro: Saturdays, Sundays and
 * the closing days of the Eurosystem's TARGET (1 January, Good Friday, Easter Monday, 1 May, 25 and
 * 26 December). Other currencies: Saturdays and Sundays, since holidays differ by place. A bank's own
 * holidays count for it in any currency.
 */
export function bankHoliday(
  day: CalendarDate,
  currency: string,
  own: readonly CalendarDate[] = [],
): string | null {
  const weekday = dayOfWeek(day);
  if (weekday === 6) return "a Saturday";
  if (weekday === 0) return "a Sunday";
  if (own.includes(day)) return "a holiday of the bank";
  if (currency !== "EUR") return null;
  const fixed: Readonly<Record<string, string>> = {
    "01-01": "New Year's Day",
    "05-01": "Labour Day",
    "12-25": "Christmas Day",
    "12-26": "the day after Christmas",
  };
  const easter = easterSunday(Number(day.slice(0, 4)));
  if (day === addDays(easter, -2)) return "Good Friday";
  if (day === addDays(easter, 1)) return "Easter Monday";
  return fixed[day.slice(5)] ?? null;
}

/** The last day before another on which banks work. */
export function bankDayBefore(
  day: CalendarDate,
  currency: string,
  own: readonly CalendarDate[] = [],
): CalendarDate {
  let before = addDays(day, -1);
  while (bankHoliday(before, currency, own) !== null) before = addDays(before, -1);
  return before;
}

/** The day itself where banks pay on it, else the next one. */
export function nextBankDay(
  day: CalendarDate,
  currency: string,
  own: readonly CalendarDate[] = [],
): CalendarDate {
  let next = day;
  while (bankHoliday(next, currency, own) !== null) next = addDays(next, 1);
  return next;
}
