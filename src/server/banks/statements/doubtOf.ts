import { amountText, dateText, minor, type CalendarDate, type Minor } from "@/core/shared";

/** What a statement does not join to: a gap or an overlap with the one before it, in words. */
export function doubtOf(
  last: { number: string; date: CalendarDate; closing: bigint },
  s: { opening: { amount: Minor; date: CalendarDate }; currency: string },
): string {
  if (last.closing === s.opening.amount) return "";
  const text = (a: bigint) => amountText(minor(a), s.currency);
  const words =
    `it opens with ${text(s.opening.amount)}; statement ${last.number} closed with ` +
    `${text(last.closing)} on ${dateText(last.date)}`;
  return s.opening.date >= last.date ? `A gap: ${words}` : `An overlap: ${words}`;
}
