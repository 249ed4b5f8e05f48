import type { LoadField } from "@/core/ledger";

const KEPT = "table.meanings.by.headings";
/** As many tables as are remembered; the oldest goes first. */
const MOST = 40;

type Kept = [headings: string, fields: (LoadField | null)[]][];

const nameOf = (headings: readonly string[]): string =>
  headings.map((h) => h.trim().toLowerCase()).join("\t");

function kept(): Kept {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEPT) ?? "[]");
    return Array.isArray(found) ? (found as Kept) : [];
  } catch {
    return [];
  }
}

/**
 * Remembers what the columns of a table meant, for tables with exactly these headings: the same
 * heading among others, or a place in a table without headings, means nothing elsewhere.
 */
export function keepMeanings(
  headings: readonly string[],
  fields: readonly (LoadField | null)[],
): void {
  const name = nameOf(headings);
  const others = kept().filter(([h]) => h !== name);
  localStorage.setItem(KEPT, JSON.stringify([...others, [name, [...fields]]].slice(-MOST)));
}

/** What a person said of a table with the same headings; null where nobody has. */
export const meaningsOf = (headings: readonly string[]): (LoadField | null)[] | null =>
  kept().find(([h]) => h === nameOf(headings))?.[1] ?? null;
