import { addDays, addMonths, type CalendarDate } from "../shared";

/** A fiscal year by its first and last day; short ones too. */
export interface FiscalSpan {
  first: CalendarDate;
  last: CalendarDate;
}

/**
 * The fiscal year that a day lies in. Outside of the years that there are, they go on by twelve
 * months at a time.
 */
export function fiscalYearOf(day: CalendarDate, years: readonly FiscalSpan[]): FiscalSpan {
  const found = years.find((y) => y.first <= day && day <= y.last);
  if (found) return found;
  const known = years[0]
    ? { earliest: years[0].first, latest: years.at(-1)!.last }
    : { earliest: `${day.slice(0, 4)}-01-01`, latest: addDays(`${day.slice(0, 4)}-01-01`, -1) };
  // Whole years of twelve months before or after: how many, by the months between.
  const begin = day > known.latest ? addDays(known.latest, 1) : known.earliest;
  const months = monthOf(day) - monthOf(begin) - (day.slice(8) < begin.slice(8) ? 1 : 0);
  const first = addMonths(begin, Math.floor(months / 12) * 12);
  return { first, last: addDays(addMonths(first, 12), -1) };
}

const monthOf = (day: CalendarDate): number =>
  Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7));
