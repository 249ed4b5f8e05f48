import { amountText, dateText, type CalendarDate, type Minor } from "../../shared";
import type { ScoreFacts } from "./score";

export const ACTIONS = ["call", "write", "wait", "ask sales", "stop delivery"] as const;
export type NextAction = (typeof ACTIONS)[number];

/** What a suggestion looks at beside the score's facts. Minor units of the company's currency. */
export interface ActionFacts extends ScoreFacts {
  overdue: Minor;
  disputed: Minor;
  promised: Minor;
  /** The next day on which something is promised. */
  promisedFor: CalendarDate | null;
}

/** Days within which a call is not worth it yet: a transfer may be under way. */
const GRACE = 5;
/** From so many days on one calls instead of writing. */
const CALL_FROM = 20;
/** From so many days on a customer over its limit gets nothing more. */
const STOP_FROM = 30;

/**
 * What to do next, with its reason; the first that applies. Nothing to collect is waited for, a
 * dispute is for whoever sold, whoever is far over the limit gets nothing more, a broken promise is
 * worth a call, and the rest goes by how late it is.
 */
export function nextAction(
  f: ActionFacts,
  currency: string,
): { action: NextAction; because: string } {
  if (f.toCollect <= 0n) {
    if (f.promised > 0n && f.promisedFor)
      return { action: "wait", because: `promised for ${dateText(f.promisedFor)}` };
    if (f.disputed > 0n)
      return {
        action: "ask sales",
        because: `${amountText(f.disputed, currency)} in dispute`,
      };
    return { action: "wait", because: "nothing to collect" };
  }
  if (f.limitUsed !== null && f.limitUsed > 100 && f.daysLate >= STOP_FROM)
    return { action: "stop delivery", because: `${f.limitUsed} % of the limit used` };
  if (f.lastBroken !== null)
    return { action: "call", because: `promise broken ${brokenText(f.lastBroken)}` };
  if (f.limitUsed !== null && f.limitUsed > 100)
    return { action: "call", because: `${f.limitUsed} % of the limit used` };
  if (f.daysLate >= CALL_FROM) return { action: "call", because: `${f.daysLate} days overdue` };
  if (f.daysLate <= GRACE)
    return { action: "wait", because: `${f.daysLate} days overdue, it may be under way` };
  return f.silent !== null && f.silent > CALL_FROM
    ? { action: "write", because: `silent for ${f.silent} days` }
    : { action: "write", because: `${f.daysLate} days overdue` };
}

const brokenText = (days: number): string =>
  days === 0 ? "today" : days === 1 ? "yesterday" : `${days} days ago`;
