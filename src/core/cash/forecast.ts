import { addDays, dayOfWeek, minor, type CalendarDate, type Minor } from "../shared";

/** Where expected money comes from or goes to. */
export const CASH_SOURCES = [
  "under way",
  "receivables",
  "payables",
  "payment runs",
  "orders",
  "recurring invoices",
  "taxes",
  "monthly",
] as const;
export type CashSource = (typeof CASH_SOURCES)[number];

/** Money that is expected to come in (positive) or to go out, on a likely day and between two others. */
export interface CashFlow {
  source: CashSource;
  /** Minor units of the one currency in which all is shown. */
  amount: Minor;
  early: CalendarDate;
  usual: CalendarDate;
  late: CalendarDate;
}

export interface CashStep {
  from: CalendarDate;
  to: CalendarDate;
}

export interface ForecastStep extends CashStep {
  in: Minor;
  out: Minor;
  /** What is held at the end of the step: as expected, at the least, at the most. */
  closing: Minor;
  low: Minor;
  high: Minor;
}

/** Days one by one from the next one on. */
export const daySteps = (today: CalendarDate, count: number): CashStep[] =>
  Array.from({ length: count }, (_, i) => {
    const day = addDays(today, i + 1);
    return { from: day, to: day };
  });

/** Weeks up to their Sunday, the first one from the next day on. */
export function weekSteps(today: CalendarDate, count: number): CashStep[] {
  const first = addDays(today, 1);
  const sunday = addDays(first, (7 - dayOfWeek(first)) % 7);
  return Array.from({ length: count }, (_, i) => ({
    from: i === 0 ? first : addDays(sunday, 7 * i - 6),
    to: addDays(sunday, 7 * i),
  }));
}

/**
 * What is held at the end of each step. At the least money comes in late and goes out early; at the
 * most the other way round. What is expected before the first step falls into it; what comes after
 * the last one does not count.
 * Units: minor units of one currency, exact. `low` ≤ `closing` ≤ `high` where the days of each flow
 * stand in their order.
 */
export function cashForecast(
  opening: Minor,
  flows: readonly CashFlow[],
  steps: readonly CashStep[],
): ForecastStep[] {
  const by = (of: (f: CashFlow) => CalendarDate, step: number) => stepOf(of, steps, step, flows);
  const list: ForecastStep[] = [];
  let [closing, low, high]: [bigint, bigint, bigint] = [opening, opening, opening];
  for (const [i, step] of steps.entries()) {
    const usual = by((f) => f.usual, i);
    const early = by((f) => f.early, i);
    const late = by((f) => f.late, i);
    closing += usual.in + usual.out;
    low += late.in + early.out;
    high += early.in + late.out;
    list.push({
      ...step,
      in: minor(usual.in),
      out: minor(usual.out),
      closing: minor(closing),
      low: minor(low),
      high: minor(high),
    });
  }
  return list;
}

/** Whether a day falls into a step; the first one takes what lies before it, too. */
export const isInStep = (day: CalendarDate, steps: readonly CashStep[], index: number): boolean =>
  day <= steps[index]!.to && (index === 0 || day > steps[index - 1]!.to);

function stepOf(
  of: (f: CashFlow) => CalendarDate,
  steps: readonly CashStep[],
  index: number,
  flows: readonly CashFlow[],
): { in: bigint; out: bigint } {
  let [into, out] = [0n, 0n];
  for (const f of flows)
    if (isInStep(of(f), steps, index)) {
      if (f.amount > 0n) into += f.amount;
      else out += f.amount;
    }
  return { in: into, out };
}

/** Where the money does not reach: the first step that is expected to end, or could end, below a floor. */
export function shortageOf(
  steps: readonly ForecastStep[],
  floor: Minor,
): { expected: ForecastStep | null; possible: ForecastStep | null } {
  return {
    expected: steps.find((s) => s.closing < floor) ?? null,
    possible: steps.find((s) => s.low < floor) ?? null,
  };
}
