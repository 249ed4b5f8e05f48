import {
  addDays,
  addMonths,
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

export type Division = "months" | "4-4-5" | { count: number };

export interface YearPlan {
  name: string;
  start: CalendarDate;
  division: Division;
  adjustment: boolean;
}

/**
 * Divides a fiscal year into periods that follow on without a gap.
 * months: twelve calendar months from the start (the first may begin within a month).
 * 4-4-5: fifty-two weeks in quarters of four, four and five weeks, twelve periods.
 * count: that many periods (1 to 52) of as equal a number of days as possible over twelve months,
 * the longer ones first.
 * With `adjustment`, one more period lies on the last day.
 * Errors: DATE_INVALID, INVALID.
 */
export function planYear(plan: YearPlan): Result<{ end: CalendarDate; periods: PlannedPeriod[] }> {
  const { start, division } = plan;
  if (!isCalendarDate(start)) return fail({ code: "DATE_INVALID", text: start, field: "start" });
  const cuts =
    division === "months"
      ? monthEnds(start)
      : division === "4-4-5"
        ? weekEnds(start)
        : evenEnds(start, division.count);
  if (!cuts)
    return fail({ code: "INVALID", what: "A year has 1 to 52 periods", field: "division" });
  let from = start;
  const periods: PlannedPeriod[] = cuts.map((end, i) => {
    const period = {
      no: i + 1,
      name: division === "months" ? monthName(from) : `P${i + 1}`,
      start: from,
      end,
      adjustment: false,
    };
    from = addDays(end, 1);
    return period;
  });
  const end = cuts[cuts.length - 1]!;
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

function monthEnds(start: CalendarDate): CalendarDate[] {
  const ends: CalendarDate[] = [];
  const first = start.slice(0, 8) + "01";
  for (let i = 0; i < 12; i++) ends.push(endOfMonth(addMonths(first, i)));
  return ends;
}

function weekEnds(start: CalendarDate): CalendarDate[] {
  let day = addDays(start, -1);
  return [4, 4, 5, 4, 4, 5, 4, 4, 5, 4, 4, 5].map((weeks) => (day = addDays(day, weeks * 7)));
}

function evenEnds(start: CalendarDate, count: number): CalendarDate[] | null {
  if (!Number.isInteger(count) || count < 1 || count > 52) return null;
  const last = addDays(addMonths(start, 12), -1);
  const days = Math.round((Date.parse(last) - Date.parse(start)) / 86_400_000) + 1;
  let day = addDays(start, -1);
  return Array.from(
    { length: count },
    (_, i) => (day = addDays(day, Math.floor(days / count) + (i < days % count ? 1 : 0))),
  );
}
