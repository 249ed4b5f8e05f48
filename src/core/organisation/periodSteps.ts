import type { Area } from "../access";
import { fail, ok, type Found, type Result } from "../shared";
import { periodKey, periodName, stateOf, type Period, type PeriodState } from "./types";

const STEPS: Readonly<Record<PeriodState, readonly PeriodState[]>> = {
  "not-yet": ["open"],
  open: ["closing", "closed", "not-yet"],
  closing: ["open", "closed"],
  closed: ["open", "closing"],
};

export interface PeriodStep {
  /** Keys of the periods to switch, in any order. */
  periods: readonly string[];
  bookId: number;
  area: Area;
  to: PeriodState;
  reason?: string;
}

/**
 * Checks a change of state of one or more periods of a company, in one book and area.
 * Rules: no open period follows one not yet opened; a period of the ledger closes only when every
 * earlier one is closed;
 * closed periods reopen backwards from the latest closed one, with a reason; nothing goes back to
 * "not yet" once it held postings
 * (the caller says which by `withPostings`).
 * Returns the periods that really change. Errors: PERIOD_UNKNOWN, PERIOD_STEP, PERIOD_EARLIER_OPEN,
 * PERIOD_LATER_CLOSED,
 * PERIOD_EARLIER_NOT_OPENED, REASON_REQUIRED, IN_USE.
 */
export function checkPeriodStep(
  all: readonly Period[],
  step: PeriodStep,
  withPostings: ReadonlySet<string> = new Set(),
): Result<Period[]> {
  const problems: Found[] = [];
  const ordered = [...all].sort((a, b) =>
    a.start < b.start ? -1 : a.start > b.start ? 1 : a.no - b.no,
  );
  const chosen = new Set(step.periods);
  for (const key of chosen)
    if (!ordered.some((p) => periodKey(p) === key))
      problems.push({
        code: "PERIOD_UNKNOWN",
        period: key,
        company: "the company",
        field: "period",
      });
  const after = (p: Period): PeriodState =>
    chosen.has(periodKey(p)) ? step.to : stateOf(p, step.bookId, step.area);
  const changing = ordered.filter(
    (p) => chosen.has(periodKey(p)) && stateOf(p, step.bookId, step.area) !== step.to,
  );
  for (const p of changing) {
    const from = stateOf(p, step.bookId, step.area);
    const name = periodName(p);
    if (!STEPS[from].includes(step.to))
      problems.push({ code: "PERIOD_STEP", period: name, from, to: step.to, field: periodKey(p) });
    if (from === "closed" && (step.reason ?? "").trim().length < 5)
      problems.push({ code: "REASON_REQUIRED", field: "reason" });
    if (step.to === "not-yet" && withPostings.has(periodKey(p)))
      problems.push({
        code: "IN_USE",
        what: `${name} holds postings and stays open`,
        field: periodKey(p),
      });
    const index = ordered.indexOf(p);
    const before = ordered.slice(0, index);
    const behind = ordered.slice(index + 1);
    if (step.to === "closed") {
      // Only the ledger is a chain of months that build on each other; areas close when their work
      // is done.
      const open = step.area === "ledger" ? before.find((q) => after(q) !== "closed") : undefined;
      if (open)
        problems.push({
          code: "PERIOD_EARLIER_OPEN",
          period: name,
          earlier: periodName(open),
          field: periodKey(p),
        });
    } else if (from === "closed" && step.area === "ledger") {
      const closed = behind.find((q) => after(q) === "closed");
      if (closed)
        problems.push({
          code: "PERIOD_LATER_CLOSED",
          period: name,
          later: periodName(closed),
          field: periodKey(p),
        });
    }
    if (from === "not-yet") {
      const gap = before.find((q) => after(q) === "not-yet");
      if (gap)
        problems.push({
          code: "PERIOD_EARLIER_NOT_OPENED",
          period: name,
          earlier: periodName(gap),
          field: periodKey(p),
        });
    }
    if (step.to === "not-yet") {
      const opened = behind.find((q) => after(q) !== "not-yet");
      if (opened)
        problems.push({
          code: "PERIOD_EARLIER_NOT_OPENED",
          period: periodName(opened),
          earlier: name,
          field: periodKey(p),
        });
    }
  }
  return problems.length > 0 ? fail(...problems) : ok(changing);
}
