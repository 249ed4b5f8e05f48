import { addDays, endOfMonth, minor, proportion, type CalendarDate, type Minor } from "../shared";
import { clockOf, elapsed, firstOfMonth, monthIndex, type Clock } from "./clock";
import { fiscalYearOf, type FiscalSpan } from "./fiscalYears";
import { hasLife, ruleText, type DepreciationRule, type Pause } from "./rule";
import {
  byTime,
  percentUnits,
  shareBy,
  type Moment,
  type Share,
  type SharedOut,
  type Usage,
} from "./share";

/**
 * What changes how an asset is depreciated, by the day from which on it counts. Amounts are minor
 * units.
 */
export type ValuationEvent =
  /** More cost, or less; one of the day of first use or before belongs to it from the beginning. */
  | { kind: "cost"; on: CalendarDate; amount: Minor }
  /** What had been charged by the end of a day, from other books: from here on it is computed. */
  | { kind: "taken over"; on: CalendarDate; accumulated: Minor }
  /** A change of estimate: what is left is charged by another rule (IAS 8.36). */
  | { kind: "estimate"; on: CalendarDate; rule: DepreciationRule }
  | { kind: "impairment"; on: CalendarDate; amount: Minor }
  /** A part of it is gone, with its part of everything: all of it is `{ n: 1n, d: 1n }`. */
  | { kind: "retired"; on: CalendarDate; share: Share };

/** All that the depreciation of an asset in one book rests on. */
export interface Valuation {
  rule: DepreciationRule;
  inService: CalendarDate;
  /** In the order of their days. */
  events: readonly ValuationEvent[];
  pauses?: readonly Pause[];
  usage?: readonly Usage[];
}

/** An asset in a book by the end of a day; minor units. */
export interface Standing {
  cost: Minor;
  /** What is charged by then, impairment apart. */
  accumulated: Minor;
  impaired: Minor;
  residual: Minor;
  /** How the newest charges come about. */
  basis: Basis;
}
/** What is spread, over what, and how much of it has passed. */
export interface Basis {
  rule: DepreciationRule;
  /** Charged before what is spread now began; 0 from the beginning. */
  before: Minor;
  /** What is spread: cost less what is left at the end, less what was charged or impaired before. */
  base: Minor;
  /** “14 of 60 months”; empty where it is not by time. */
  passed: string;
}

/** A stretch in which nothing changes: what is left at its beginning, and how that is spread. */
interface Stretch {
  of: SharedOut;
  from: Moment;
  before: Minor;
  base: Minor;
  residual: Minor;
  /** The base is charged at once: nothing is left of the life, or more was charged than there is. */
  atOnce: boolean;
}

/**
 * What an asset is carried at by the end of a day: cost less accumulated depreciation, by a method
 * and convention (IAS 16.50 to 62A). Changes of estimate and of cost go forward: what is left then
 * is spread over what is left of the life (IAS 8.36); what counts from an earlier day on is caught
 * up, as all that was charged is computed anew.
 * Units: minor units. Rounding: half away from zero, of all that is charged since the last change,
 * so that the charges come to the cost less residual value to the unit, whatever days are asked for.
 * Residual values are rounded likewise; an asset whose residual value is above its carrying amount
 * is not depreciated (IAS 16.54).
 */
export function standingOn(
  valuation: Valuation,
  day: CalendarDate,
  years: readonly FiscalSpan[],
): Standing {
  return walk(valuation, day, years, (clock) => ({ place: clock.at(day), day }));
}

/**
 * What an asset is carried at just before something of a day takes effect, by its convention: of a
 * retirement what is gone by it (IAS 16.55: it is charged until then).
 * Units and rounding as `standingOn`.
 */
export function standingBefore(
  valuation: Valuation,
  day: CalendarDate,
  years: readonly FiscalSpan[],
): Standing {
  return walk(valuation, day, years, (clock) => ({
    place: clock.from(day),
    day: addDays(day, -1),
  }));
}

/** All that has happened by a day, one after the other, and what is charged by a moment then. */
function walk(
  valuation: Valuation,
  day: CalendarDate,
  years: readonly FiscalSpan[],
  until: (clock: Clock) => Moment,
): Standing {
  const { inService, pauses = [], usage = [] } = valuation;
  let { rule } = valuation;
  let clock = clockFor(rule, inService, years);
  const state = { cost: 0n, accumulated: 0n, impaired: 0n };
  const shared = (): SharedOut => ({ rule, clock, inService, pauses, usage, years });
  let stretch: Stretch | null = null;
  const begin = (from: Moment) => {
    stretch = stretchFrom(shared(), from, state);
  };
  const advance = (moment: Moment) => {
    if (stretch) state.accumulated = chargedBy(stretch, moment);
  };
  const first: Moment = { place: clock.start, day: addDays(inService, -1) };
  for (const event of valuation.events) {
    if (event.on > day) break;
    if (event.kind === "cost" && clock.from(event.on) <= clock.start && !stretch) {
      state.cost += event.amount;
      continue;
    }
    if (!stretch) begin(first);
    const moment = momentOf(clock, event);
    advance(moment);
    apply(event);
    begin(event.kind === "estimate" ? momentOf(clock, event) : moment);
  }
  if (!stretch) begin(first);
  advance(until(clock));
  return { ...standing(state), basis: basisOf(stretch!, until(clock)) };

  function apply(event: ValuationEvent): void {
    switch (event.kind) {
      case "cost":
        state.cost += event.amount;
        return;
      case "taken over":
        state.accumulated = event.accumulated;
        return;
      case "impairment":
        state.impaired += event.amount;
        return;
      case "estimate":
        ({ rule } = event);
        clock = clockFor(rule, inService, years);
        return;
      case "retired":
        for (const key of ["cost", "accumulated", "impaired"] as const)
          state[key] -= proportion(state[key], event.share.n, event.share.d);
    }
  }
  function standing({ cost, accumulated, impaired }: typeof state): Omit<Standing, "basis"> {
    return {
      cost: minor(cost),
      accumulated: minor(accumulated),
      impaired: minor(impaired),
      residual: residualOf(rule, cost),
    };
  }
}

const clockFor = (
  rule: DepreciationRule,
  inService: CalendarDate,
  years: readonly FiscalSpan[],
): Clock => clockOf(rule.convention, inService, hasLife(rule.method) ? rule.life : 0, years);

/** What is left of a cost at the end, by the rule. */
export const residualOf = (rule: DepreciationRule, cost: bigint): Minor =>
  proportion(cost, percentUnits(rule.residual), 1_000_000n);

function momentOf(clock: Clock, event: ValuationEvent): Moment {
  return event.kind === "taken over"
    ? { place: clock.at(event.on), day: event.on }
    : { place: clock.from(event.on), day: addDays(event.on, -1) };
}

function stretchFrom(
  of: SharedOut,
  from: Moment,
  state: { cost: bigint; accumulated: bigint; impaired: bigint },
): Stretch {
  const { cost, accumulated, impaired } = state;
  const residual = residualOf(of.rule, cost);
  const carried = cost - accumulated - impaired;
  const left = carried - residual;
  const sameSign = (left < 0n && cost < 0n) || (left > 0n && cost > 0n);
  // More was charged than there is: that comes back at once. Above its residual value: nothing.
  const over = (carried < 0n && cost >= 0n) || (carried > 0n && cost < 0n);
  return {
    of,
    from,
    before: minor(accumulated),
    base: minor(of.rule.method === "none" ? 0n : sameSign ? left : over ? carried : 0n),
    residual,
    atOnce: over,
  };
}

/** What is charged by a moment of the stretch, with what was charged before it. */
function chargedBy(stretch: Stretch, moment: Moment): Minor {
  const { before, base, of, from, atOnce } = stretch;
  if (base === 0n) return before;
  if (atOnce) return minor(before + base);
  if (of.rule.method === "declining balance") return minor(before + declining(stretch, moment));
  const s0 = shareBy(of, from);
  const s = shareBy(of, moment);
  if (s0.n >= s0.d) return moment.day < of.inService ? before : minor(before + base);
  const part = s.n * s0.d - s0.n * s.d;
  return minor(before + (part <= 0n ? 0n : proportion(base, part, s.d * (s0.d - s0.n))));
}

/**
 * Declining balance: each fiscal year so many per cent of what is left at its beginning, for its
 * part of a year; where the rule says so, straight line over what is left of the life from the year
 * on in which that is more. In the last year of the life what is left, down to the residual value.
 */
function declining({ of, from, base, residual }: Stretch, moment: Moment): bigint {
  const { clock, rule, inService, pauses, years } = of;
  if (moment.day < inService) return 0n;
  const passedAt = (place: number) => Math.min(clock.life, elapsed(clock, place, pauses));
  const end = passedAt(moment.place);
  if (end >= clock.life) return base;
  const percent = percentUnits(rule.rate);
  let place = Math.max(from.place, clock.start);
  let left: bigint = base;
  // The beginning may lie in a fiscal year before that of first use.
  let fiscal = fiscalYearOf(
    from.place > clock.start ? addDays(from.day, 1) : yearOfStart(of, inService),
    years,
  );
  while (left !== 0n) {
    const last = clock.at(fiscal.last);
    const [a, b] = [passedAt(place), passedAt(last)];
    if (b > a) {
      const parts = BigInt(b - a);
      const byRate = proportion(
        (left + residual) * parts,
        percent,
        1_000_000n * BigInt(Math.round(clock.year)),
      );
      const byLife = proportion(left, parts, BigInt(clock.life - a));
      const bigger = rule.switches && size(byLife) > size(byRate) ? byLife : byRate;
      const ofYear = b >= clock.life || size(bigger) > size(left) ? left : bigger;
      if (end <= b) return base - left + proportion(ofYear, BigInt(Math.max(0, end - a)), parts);
      left -= ofYear;
    }
    place = last;
    fiscal = fiscalYearOf(addDays(fiscal.last, 1), years);
  }
  return base;
}

const size = (amount: bigint) => (amount < 0n ? -amount : amount);

/** A day of the fiscal year in which the clock begins: of the next month it may be the next year's. */
function yearOfStart({ clock, rule, years }: SharedOut, inService: CalendarDate): CalendarDate {
  if (rule.convention !== "next month" && rule.convention !== "half month") return inService;
  const begins = Math.floor(clock.start / 2);
  if (begins === monthIndex(inService)) return inService;
  return fiscalYearOf(addDays(endOfMonth(inService), 1), years).first > inService
    ? addDays(endOfMonth(inService), 1)
    : inService;
}

function basisOf({ of, before, base }: Stretch, moment: Moment): Basis {
  const timed = hasLife(of.rule.method);
  const passed = timed ? Math.min(of.clock.life, elapsed(of.clock, moment.place, of.pauses)) : 0;
  const begun = moment.day < of.inService ? 0 : passed;
  return { rule: of.rule, before, base, passed: timed ? of.clock.words(begun, of.clock.life) : "" };
}

/** By which day everything is charged, where the method says so; null where it does not end. */
export function fullyChargedBy(
  valuation: Valuation,
  years: readonly FiscalSpan[],
): CalendarDate | null {
  const estimates = valuation.events.filter((e) => e.kind === "estimate");
  const rule = estimates.at(-1)?.rule ?? valuation.rule;
  if (!hasLife(rule.method)) return null;
  const { inService, pauses = [], usage = [] } = valuation;
  const clock = clockFor(rule, inService, years);
  const of: SharedOut = { rule, clock, inService, pauses, usage, years };
  const isOver = (day: CalendarDate) => {
    const share = byTime(of, { place: clock.at(day), day });
    return share.n >= share.d;
  };
  let index = monthIndex(inService) + rule.life - 1;
  const dayAt = (i: number) => endOfMonth(firstOfMonth(i));
  while (!isOver(dayAt(index))) index++;
  return dayAt(index);
}

/** What is charged in each month from a day on, to the end of another; minor units. */
export function plannedCharges(
  valuation: Valuation,
  from: CalendarDate,
  to: CalendarDate,
  years: readonly FiscalSpan[],
): { month: string; charge: Minor; carried: Minor }[] {
  const planned: { month: string; charge: Minor; carried: Minor }[] = [];
  let before = standingOn(valuation, addDays(`${from.slice(0, 7)}-01`, -1), years).accumulated;
  for (let day = endOfMonth(from); day <= endOfMonth(to); day = endOfMonth(addDays(day, 1))) {
    const { accumulated, cost, impaired } = standingOn(valuation, day, years);
    planned.push({
      month: day.slice(0, 7),
      charge: minor(accumulated - before),
      carried: minor(cost - accumulated - impaired),
    });
    before = accumulated;
  }
  return planned;
}

/** A rule as one reads it, with what of it has passed. */
export const basisText = ({ rule, passed }: Basis): string =>
  passed === "" ? ruleText(rule) : `${ruleText(rule)}; ${passed}`;
