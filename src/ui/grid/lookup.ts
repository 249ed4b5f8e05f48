import type { LookupOption } from "./EntryGrid";

/** As many as fit below a cell. */
const SHOWN = 8;
/** How well an option fits what was typed; the smaller the better, null where it does not. */
function rank(option: LookupOption, wanted: string, recent: ReadonlySet<string>): number | null {
  const code = option.code.toLowerCase();
  const name = option.name.toLowerCase();
  if (code === wanted || name === wanted) return 0;
  if (code.startsWith(wanted)) return 1;
  if (name.startsWith(wanted)) return 2;
  if (name.split(/[\s,/()·-]+/).some((word) => word.startsWith(wanted))) return 3;
  // Several parts: each begins a word, in any order.
  const parts = wanted.split(/\s+/).filter(Boolean);
  const words = name.split(/[\s,/()·-]+/);
  if (parts.length > 1 && parts.every((p) => words.some((w) => w.startsWith(p)))) return 3;
  if (!name.includes(wanted) && !code.includes(wanted)) return null;
  return recent.has(option.code) ? 4 : 5;
}

/**
 * The options that fit what was typed: the exact one, then by the beginning of the number, of the
 * name, of a word in it, then what was used lately, then whatever holds the text anywhere.
 */
export function searchOptions(
  all: readonly LookupOption[],
  typed: string,
  recent: readonly string[] = [],
): LookupOption[] {
  const wanted = typed.trim().toLowerCase();
  // Saved codings are asked for by their mark, and do not stand between the numbers.
  const options = all.filter((o) => o.code.startsWith("@") === wanted.startsWith("@"));
  if (wanted === "") return options.slice(0, SHOWN);
  const used = new Set(recent);
  const ranked = options.flatMap((option, place) => {
    const own = rank(option, wanted, used);
    return own === null ? [] : [{ option, own, place }];
  });
  const lately = (code: string) => (used.has(code) ? 0 : 1);
  return ranked
    .sort(
      (a, b) =>
        a.own - b.own ||
        // Numbers stay in their order; among names the one used lately comes first.
        (a.own > 1 ? lately(a.option.code) - lately(b.option.code) : 0) ||
        a.place - b.place,
    )
    .slice(0, SHOWN)
    .map((r) => r.option);
}

const KEPT = "grid.recent";
const MOST = 60;

export function recentCodes(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEPT) ?? "[]");
    return Array.isArray(kept) ? (kept as string[]) : [];
  } catch {
    return [];
  }
}
/** Remembers what was chosen, the newest first. */
export function rememberCode(code: string): void {
  const next = [code, ...recentCodes().filter((c) => c !== code)].slice(0, MOST);
  localStorage.setItem(KEPT, JSON.stringify(next));
}
