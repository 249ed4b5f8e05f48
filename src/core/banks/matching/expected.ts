import { dateText, daysBetween, type CalendarDate, type Minor } from "../../shared";
import type { LineCoding } from "../lineState";
import { isKnown, partnersOf, type Known } from "./explain";
import type { Candidate, MatchLine, MatchReason } from "./types";

/** Money that is expected though no item is open for it: what comes again, what is paid monthly. */
export interface Expected {
  what: string;
  /** The days on which it is expected. */
  days: readonly CalendarDate[];
  /** Minor units of the lines' currency, positive for money in. */
  amount: Minor;
  /** Whose it is; "" where it is nobody's. */
  partner: string;
  /** Where it is posted, where it is nobody's. */
  coding: LineCoding | null;
}

/** So many days before or after the day a bank still means it. */
const NEAR = 7;

/**
 * Explanations by what is expected: the amount to the unit, near its day. It is never sure, since
 * nothing says that the line is that; somebody else's name or account speaks against it altogether.
 */
export function expectedCandidates(line: MatchLine, known: Known): Candidate[] {
  return known.expected.flatMap((e): Candidate[] => {
    if (e.amount !== line.amount) return [];
    const day = nearest(e.days, line.booked);
    if (day === null) return [];
    const others = partnersOf(line, known);
    if (e.partner !== "" && others.size > 0 && !isKnown(line, known, e.partner)) return [];
    const reasons: MatchReason[] = [
      {
        what: "expected",
        weight: day === line.booked ? 40 : 30,
        says: `${e.what} is expected on ${dateText(day)}, with exactly this amount`,
      },
    ];
    if (others.has(e.partner))
      reasons.push({
        what: "name",
        weight: 25,
        says: `it is from or to ${known.partners.nameOf(e.partner)}`,
      });
    return [
      {
        takes: [],
        partner: e.partner,
        kind: "",
        coding: e.coding,
        transfer: null,
        onAccount: e.partner !== "",
        rest: line.amount,
        score: reasons.reduce((t, r) => t + r.weight, 0),
        reasons,
        sure: false,
      },
    ];
  });
}

/** The day nearest to another one, where it is near enough. */
function nearest(days: readonly CalendarDate[], to: CalendarDate): CalendarDate | null {
  const apart = (day: CalendarDate): number => Math.abs(daysBetween(day, to));
  const [first] = days.filter((d) => apart(d) <= NEAR).sort((a, b) => apart(a) - apart(b));
  return first ?? null;
}
