import { array, number, object, string, type InferType } from "yup";
import { addDays, dayField, endOfMonth, type CalendarDate } from "../../shared";

/** What was promised: which items, how much of each, for which day, how and by whom. */
export const promiseSchema = object({
  company: string().required().max(20),
  partner: string().required().max(60),
  due: dayField().required("Say for which day"),
  /** How it is to be paid, in words. */
  how: string().trim().max(60).default(""),
  /** Who has promised it. */
  by: string().trim().max(80).default(""),
  items: array(
    object({
      id: number().integer().required(),
      /** Of the item, as a decimal of its currency; "" for all that is left of it. */
      amount: string().trim().max(40).default(""),
    }),
  )
    .min(1, "Choose what is promised")
    .max(500)
    .required(),
});
export type PromiseInput = InferType<typeof promiseSchema>;

export const PROMISE_STATES = ["open", "kept", "part", "broken", "withdrawn"] as const;
export type PromiseState = (typeof PROMISE_STATES)[number];

/**
 * What became of a promise, by what was settled of its items between the promise and its day, and no
 * more of each than was promised. `paid` and `amount` in the same minor units.
 */
export function promiseState(p: {
  amount: bigint;
  paid: bigint;
  due: CalendarDate;
  on: CalendarDate;
  withdrawn: boolean;
}): PromiseState {
  if (p.paid >= p.amount) return "kept";
  if (p.withdrawn) return "withdrawn";
  if (p.due >= p.on) return "open";
  return p.paid > 0n ? "part" : "broken";
}

/** The days that are promised most, each with its key. */
export const promiseDays = (
  today: CalendarDate,
): { key: string; name: string; day: CalendarDate }[] => [
  { key: "1", name: "today", day: today },
  { key: "2", name: "tomorrow", day: addDays(today, 1) },
  { key: "3", name: "Friday", day: nextFriday(today) },
  { key: "4", name: "Friday week", day: addDays(nextFriday(today), 7) },
  { key: "5", name: "end of month", day: endOfMonth(today) },
];

/** The next Friday that is not today. */
function nextFriday(day: CalendarDate): CalendarDate {
  const weekday = new Date(`${day}T00:00:00Z`).getUTCDay();
  return addDays(day, (5 - weekday + 7) % 7 || 7);
}
