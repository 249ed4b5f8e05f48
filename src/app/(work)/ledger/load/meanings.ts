import type { LoadField } from "@/core/ledger";

const KEPT = "table.meanings";

/**
 * What each heading meant the last time that somebody here said so, by the heading in small
 * letters.
 */
export function keptMeanings(): Record<string, LoadField | null> {
  try {
    return (JSON.parse(localStorage.getItem(KEPT) ?? "{}") ?? {}) as Record<
      string,
      LoadField | null
    >;
  } catch {
    return {};
  }
}

export const keepMeanings = (
  headings: readonly string[],
  fields: readonly (LoadField | null)[],
): void =>
  localStorage.setItem(
    KEPT,
    JSON.stringify({
      ...keptMeanings(),
      ...Object.fromEntries(headings.map((h, i) => [h.trim().toLowerCase(), fields[i] ?? null])),
    }),
  );

/** The meaning of each heading: understood, else as the last time; each meaning once. */
export const meaningsOf = (
  headings: readonly string[],
  understood: readonly (LoadField | null)[],
): (LoadField | null)[] => {
  const before = keptMeanings();
  return headings
    .map((h, i) => understood[i] ?? before[h.trim().toLowerCase()] ?? null)
    .map((f, i, all) => (f && all.indexOf(f) === i ? f : null));
};
