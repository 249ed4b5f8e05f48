import { number, object, string, type InferType } from "yup";
import {
  addDays,
  addMonths,
  endOfMonth,
  isCalendarDate,
  readDate,
  type CalendarDate,
} from "./calendarDate";
import { fail, ok, type Result } from "./result";

export const RHYTHM_UNITS = ["week", "month"] as const;
/**
 * When something comes again. A first date on the last day of its month means the last day of every
 * month.
 */
export const rhythmSchema = object({
  every: number().integer().min(1, "Say a whole number from 1").max(120).default(1),
  unit: string().oneOf(RHYTHM_UNITS).default("month"),
  first: string().default("").max(40),
  /** No date after this day. Empty: without end. */
  until: string().default("").max(40),
});
export type Rhythm = InferType<typeof rhythmSchema>;

/** As many dates as one look can use: 50 years of weeks are no plan. */
const MOST = 600;

/**
 * The dates of a rhythm up to and including a day, ascending.
 * Months are counted from the first date, so that 31 January, 28 February, 31 March follow each
 * other and no day is lost on the way.
 * Nothing where the first date is no date.
 */
export function datesOf(rhythm: Rhythm, upTo: CalendarDate): CalendarDate[] {
  const { first, every, unit } = rhythm;
  if (!isCalendarDate(first)) return [];
  const last = isCalendarDate(rhythm.until) && rhythm.until < upTo ? rhythm.until : upTo;
  const atEnd = first === endOfMonth(first);
  const dates: CalendarDate[] = [];
  for (let n = 0; n < MOST; n++) {
    const plain = unit === "week" ? addDays(first, 7 * every * n) : addMonths(first, every * n);
    const date = unit === "month" && atEnd ? endOfMonth(plain) : plain;
    if (date > last) break;
    dates.push(date);
  }
  return dates;
}

/**
 * A rhythm with its dates read as they were typed. Errors, at `first` and `until`: REQUIRED,
 * DATE_INVALID, and where it ends before it begins.
 */
export function readRhythm(written: Rhythm, today: CalendarDate): Result<Rhythm> {
  const first = readDate(written.first, today);
  if (!first)
    return fail(
      written.first.trim() === ""
        ? { code: "REQUIRED", what: "The first date", field: "first" }
        : { code: "DATE_INVALID", text: written.first, field: "first" },
    );
  const until = written.until.trim() === "" ? "" : readDate(written.until, today);
  if (until === null) return fail({ code: "DATE_INVALID", text: written.until, field: "until" });
  if (until && until < first)
    return fail({ code: "INVALID", what: "It ends before it begins", field: "until" });
  return ok({ ...written, first, until });
}

/** "every month", "every 3 months", "every 2 weeks". */
export const rhythmText = ({ every, unit }: Pick<Rhythm, "every" | "unit">): string =>
  every === 1 ? `every ${unit}` : `every ${every} ${unit}s`;
