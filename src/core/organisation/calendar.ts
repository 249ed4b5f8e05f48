import {
  addDays,
  addMonths,
  dateText,
  endOfMonth,
  fail,
  isCalendarDate,
  monthName,
  ok,
  type CalendarDate,
  type Result,
} from "../shared";

export interface PlannedPeriod {
  no: number;
  name: string;
  start: CalendarDate;
  end: CalendarDate;
  adjustment: boolean;
}

/** How many weeks the periods of a quarter have. */
export const WEEK_DIVISIONS = ["4-4-5", "4-5-4", "5-4-4"] as const;
export type WeekDivision = (typeof WEEK_DIVISIONS)[number];
export type Division = "months" | WeekDivision | { count: number };

export interface YearPlan {
  name: string;
  start: CalendarDate;
  /** The last day; what the division makes of it where nothing is said. */
  end?: CalendarDate | undefined;
  division: Division;
  adjustment: boolean;
}

/** Days of the longest year: a first one may take in some months before. */
const LONGEST = 731;
const WEEK = 7;
const daysFrom = (start: CalendarDate, end: CalendarDate): number =>
  Math.round((Date.parse(end) - Date.parse(start)) / 86_400_000) + 1;

/**
 * Divides a fiscal year into periods that follow on without a gap.
 * months: calendar months from the start to the end; the first and the last may be part of one.
 * Twelve months where no end is given.
 * weeks: 52 or 53 weeks in quarters of four, four and five weeks (or 4-5-4, 5-4-4), twelve periods;
 * a 53rd week belongs to the last. 52 where no end is given.
 * count: that many periods (1 to 52) of as equal a number of days as possible, the longer ones
 * first. Twelve months where no end is given.
 * With `adjustment`, one more period lies on the last day.
 * Errors: DATE_INVALID, INVALID.
 */
export function planYear(plan: YearPlan): Result<{ end: CalendarDate; periods: PlannedPeriod[] }> {
  const { start, division } = plan;
  if (!isCalendarDate(start)) return fail({ code: "DATE_INVALID", text: start, field: "start" });
  if (plan.end !== undefined && !isCalendarDate(plan.end))
    return fail({ code: "DATE_INVALID", text: plan.end, field: "end" });
  const weeks = typeof division === "string" && division !== "months" ? division : null;
  const end =
    plan.end ??
    (weeks
      ? addDays(start, 52 * WEEK - 1)
      : division === "months"
        ? endOfMonth(addMonths(start.slice(0, 8) + "01", 11))
        : addDays(addMonths(start, 12), -1));
  const days = daysFrom(start, end);
  if (days < 1) return fail({ code: "INVALID", what: "A year ends after it starts", field: "end" });
  if (days > LONGEST)
    return fail({ code: "INVALID", what: "A year has at most two years' days", field: "end" });
  if (weeks && days !== 52 * WEEK && days !== 53 * WEEK)
    return fail({
      code: "INVALID",
      what: `A year of weeks has 52 or 53 of them; from ${dateText(start)} it ends on ${dateText(addDays(start, 52 * WEEK - 1))} or ${dateText(addDays(start, 53 * WEEK - 1))}`,
      field: "end",
    });
  const cuts = weeks
    ? weekEnds(start, end, weeks)
    : division === "months"
      ? monthEnds(start, end)
      : evenEnds(start, days, (division as { count: number }).count);
  if (!cuts)
    return fail({
      code: "INVALID",
      what: "A year has 1 to 52 periods, none of them without a day",
      field: "count",
    });
  let from = start;
  const periods: PlannedPeriod[] = cuts.map((last, i) => {
    const period = {
      no: i + 1,
      name: division === "months" ? monthName(from) : `P${i + 1}`,
      start: from,
      end: last,
      adjustment: false,
    };
    from = addDays(last, 1);
    return period;
  });
  if (plan.adjustment)
    periods.push({
      no: periods.length + 1,
      name: "Adjustments",
      start: end,
      end,
      adjustment: true,
    });
  return ok({ end, periods });
}

function monthEnds(start: CalendarDate, end: CalendarDate): CalendarDate[] {
  const ends: CalendarDate[] = [];
  for (let day = endOfMonth(start); day < end; day = endOfMonth(addDays(day, 1))) ends.push(day);
  return [...ends, end];
}

function weekEnds(start: CalendarDate, end: CalendarDate, division: WeekDivision): CalendarDate[] {
  const quarter = division.split("-").map(Number);
  let day = addDays(start, -1);
  const ends = [0, 1, 2, 3].flatMap(() =>
    quarter.map((weeks) => (day = addDays(day, weeks * WEEK))),
  );
  return [...ends.slice(0, -1), end];
}

function evenEnds(start: CalendarDate, days: number, count: number): CalendarDate[] | null {
  if (!Number.isInteger(count) || count < 1 || count > 52 || count > days) return null;
  let day = addDays(start, -1);
  return Array.from(
    { length: count },
    (_, i) => (day = addDays(day, Math.floor(days / count) + (i < days % count ? 1 : 0))),
  );
}

/**
 * The name of the year after one: each of its figures one on, as 2026 to 2027, 2026/27 to 2027/28,
 * FY99 to FY00. One without figures has no next.
 */
export const nextYearName = (name: string): string =>
  name.replace(/\d+/g, (digits) =>
    String((Number(digits) + 1) % 10 ** digits.length).padStart(digits.length, "0"),
  );

/** How a year was divided, as far as its periods tell. */
export function divisionOf(
  periods: readonly Pick<PlannedPeriod, "start" | "end" | "adjustment">[],
): Division {
  const plain = periods.filter((p) => !p.adjustment);
  const first = plain[0];
  if (!first) return "months";
  const lengths = plain.map((p) => daysFrom(p.start, p.end) / WEEK);
  const quarter = lengths.slice(0, 3).join("-");
  const weeks = WEEK_DIVISIONS.find((w) => w === quarter);
  if (weeks && plain.length === 12) return weeks;
  if (plain.slice(0, -1).every((p) => p.end === endOfMonth(p.start))) return "months";
  return { count: plain.length };
}
