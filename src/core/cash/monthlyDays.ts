import { addDays, endOfMonth, type CalendarDate } from "../shared";

/**
 * The days of the months after today, up to a last day, on which something is paid monthly: the day of
 * the month, or its last one where it is shorter.
 * @example monthlyDays("2026-02-10", 31, "2026-04-30") // 2026-02-28, 2026-03-31, 2026-04-30
 */
export function monthlyDays(today: CalendarDate, day: number, upTo: CalendarDate): CalendarDate[] {
  const days: CalendarDate[] = [];
  for (let end = endOfMonth(today); ; end = endOfMonth(addDays(end, 1))) {
    const own = Math.min(day, Number(end.slice(8)));
    const at = `${end.slice(0, 8)}${String(own).padStart(2, "0")}`;
    if (at > upTo) return days;
    if (at > today) days.push(at);
  }
}
