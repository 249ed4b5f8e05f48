import { string } from "yup";
import { isCalendarDate } from "./calendarDate";

/** A day as text, YYYY-MM-DD; nothing, or nothing but blanks, where none is meant. */
export const dayField = () =>
  string()
    .transform((v: unknown) => (typeof v === "string" && v.trim() === "" ? undefined : v))
    .test(
      "day",
      ({ value }) => `“${String(value).slice(0, 40)}” is not a date that exists`,
      (v) => v === undefined || isCalendarDate(v),
    );
