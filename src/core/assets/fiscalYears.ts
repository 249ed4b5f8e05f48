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
  if (day > known.latest) {
    let first = addDays(known.latest, 1);
    for (;;) {
      const last = addDays(addMonths(first, 12), -1);
      if (day <= last) return { first, last };
      first = addDays(last, 1);
    }
  }
  let last = addDays(known.earliest, -1);
  for (;;) {
    const first = addDays(addMonths(addDays(last, 1), -12), 0);
    if (day >= first) return { first, last };
    last = addDays(first, -1);
  }
}
