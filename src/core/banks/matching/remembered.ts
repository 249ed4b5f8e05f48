import { dateText, type CalendarDate } from "../../shared";
import type { LineCoding } from "../lineState";
import { monthNames } from "./monthNames";
import type { Candidate, MatchLine } from "./types";

/** A line that people have decided on, and that is posted. */
export interface RememberedLine {
  party: string;
  text: string;
  /** Whether money came in. */
  isIn: boolean;
  booked: CalendarDate;
  /** Whose items it paid, or on whose account it stays; "" where it is nobody's. */
  partner: string;
  kind: string;
  coding: LineCoding | null;
}

/** The last line of a text, and how often what was decided of it was decided so. */
export interface Remembered {
  last: RememberedLine;
  times: number;
}

export interface Memory {
  of(line: MatchLine): Remembered | undefined;
}

/** A text of fewer letters may mean anything. */
const LEAST_LETTERS = 6;

/**
 * What lines of a text have in common: the words of name and text without figures and names of months,
 * which differ from one line to the next. Null where too little is left to mean anything.
 */
export function textKey(party: string, text: string): string | null {
  const words = (of: string) =>
    of
      .normalize("NFD")
      .replace(/\p{M}/gu, "")
      .toLowerCase()
      .split(/[^\p{L}\p{N}]+/u)
      .filter((w) => w !== "" && !/\p{N}/u.test(w) && !monthNames.has(w))
      .join(" ");
  const key = `${words(party)}|${words(text)}`;
  return key.replace(/[^\p{L}]/gu, "").length < LEAST_LETTERS ? null : key;
}

/** What was decided about lines by their texts; the last one of a text counts. */
export function memoryOf(lines: readonly RememberedLine[]): Memory {
  const keyed = (isIn: boolean, key: string | null) => (key === null ? null : `${isIn}|${key}`);
  const known = new Map<string, Remembered>();
  for (const l of [...lines].sort((a, b) => (a.booked < b.booked ? -1 : 1))) {
    const key = keyed(l.isIn, textKey(l.party, l.text));
    if (key === null) continue;
    const before = known.get(key);
    known.set(key, { last: l, times: before && isSame(before.last, l) ? before.times + 1 : 1 });
  }
  return {
    of: (line) => {
      if (known.size === 0) return undefined;
      const key = keyed(line.amount > 0n, textKey(line.party.name, line.text));
      return key === null ? undefined : known.get(key);
    },
  };
}

const isSame = (a: RememberedLine, b: RememberedLine): boolean =>
  a.partner === b.partner &&
  a.kind === b.kind &&
  a.coding?.account === b.coding?.account &&
  a.coding?.tax === b.coding?.tax;

/** The coding that the last line of the same text was given. It is never sure: people see it first. */
export function rememberedCandidate(line: MatchLine, memory: Memory): Candidate | null {
  const found = memory.of(line);
  if (!found || found.last.partner !== "") return null;
  const { last, times } = found;
  if (last.kind === "" && last.coding === null) return null;
  const weight = 40 + 5 * Math.min(times - 1, 3);
  const often = times === 1 ? "" : `, ${times} times in a row`;
  return {
    takes: [],
    partner: "",
    kind: last.kind,
    coding: last.coding,
    transfer: null,
    rest: line.amount,
    score: weight,
    reasons: [
      {
        what: "remembered",
        weight,
        says: `a line of this text was posted so on ${dateText(last.booked)}${often}`,
      },
    ],
    sure: false,
  };
}
