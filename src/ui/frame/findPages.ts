import type { PageEntry } from "./pages";

/**
 * The pages that a text means, the best first: its name, a name that begins so, a word of a name
 * that does, a name that holds it, and last other words by which somebody may look for it.
 */
export function findPages<P extends Pick<PageEntry, "name" | "words">>(
  pages: readonly P[],
  text: string,
): P[] {
  const wanted = text.trim().toLowerCase();
  if (wanted === "") return [...pages];
  const rank = ({ name, words }: P): number => {
    const own = name.toLowerCase();
    if (own === wanted) return 0;
    if (own.startsWith(wanted)) return 1;
    if (own.split(/[\s,]+/).some((word) => word.startsWith(wanted))) return 2;
    if (own.includes(wanted)) return 3;
    return `${own} ${words}`.toLowerCase().includes(wanted) ? 4 : 5;
  };
  return pages
    .map((page, place) => ({ page, place, rank: rank(page) }))
    .filter((r) => r.rank < 5)
    .sort((a, b) => a.rank - b.rank || a.place - b.place)
    .map((r) => r.page);
}
