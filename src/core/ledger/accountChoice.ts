import type { Masters } from "./masters";
import type { Account } from "./types";

/**
 * The accounts that a text names: numbers, ranges ("4010..4090", both ends included) and headings
 * with all below them, parted by commas.
 * A heading's code is understood where no account has that number. In the order of the chart, each
 * once; null where a part names nothing.
 */
export function readAccounts(text: string, masters: Masters): Account[] | null {
  const parts = text
    .split(",")
    .map((p) => p.trim())
    .filter(Boolean);
  if (parts.length === 0) return null;
  const chosen = new Set<number>();
  for (const part of parts) {
    const found = accountsOf(part, masters);
    if (found.length === 0) return null;
    for (const account of found) chosen.add(account.id);
  }
  return masters.accounts.filter((a) => chosen.has(a.id));
}

function accountsOf(part: string, masters: Masters): Account[] {
  const single = masters.accountByNumber.get(part);
  if (single) return [single];
  const range = /^(\S+?)\s*\.\.\s*(\S+)$/.exec(part);
  if (range)
    return masters.accounts.filter(
      (a) => a.number >= range[1]! && (a.number <= range[2]! || a.number.startsWith(range[2]!)),
    );
  const heading = masters.headings.find((h) => h.code === part);
  if (!heading) return [];
  const ids = new Set([heading.id]);
  for (let before = 0; before < ids.size;) {
    before = ids.size;
    for (const h of masters.headings) if (h.parentId !== null && ids.has(h.parentId)) ids.add(h.id);
  }
  return masters.accounts.filter((a) => ids.has(a.headingId));
}
