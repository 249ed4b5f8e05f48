import { dateText, type CalendarDate, type Minor } from "../../shared";

/** Why an item, or a part of it, is not asked for: it is in dispute, or promised for a day. */
export const heldBack = (of: { disputed: Minor; promisedFor: CalendarDate | null }): string =>
  of.disputed > 0n && of.promisedFor !== null
    ? `in dispute, and promised for ${dateText(of.promisedFor)}`
    : of.disputed > 0n
      ? "in dispute"
      : `promised for ${dateText(of.promisedFor!)}`;
