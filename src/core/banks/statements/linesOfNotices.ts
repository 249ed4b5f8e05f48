import type { CalendarDate } from "../../shared";

interface Movement {
  id: number;
  /** Minor units, signed. */
  amount: bigint;
  booked: CalendarDate;
  /** The bank's own reference; "" where it gives none. */
  bank: string;
}

/**
 * Which line of an account's statements a notice of the bank tells of: the one of its amount with the
 * bank's reference; else the only one of its amount and day, where references do not say otherwise.
 * By line, the notice; each is used once.
 */
export function linesOfNotices(
  lines: readonly Movement[],
  notices: readonly Movement[],
): Map<number, number> {
  const found = new Map<number, number>();
  for (const key of [byReference, byDay]) {
    const used = new Set(found.values());
    const open = groupsOf(
      lines.filter((l) => !found.has(l.id)),
      key,
    );
    const told = groupsOf(
      notices.filter((n) => !used.has(n.id)),
      key,
    );
    for (const [k, group] of open) {
      const [line, notice] = [onlyOf(group), onlyOf(told.get(k) ?? [])];
      if (line && notice && !differ(line.bank, notice.bank)) found.set(line.id, notice.id);
    }
  }
  return found;
}

const byReference = (m: Movement) => (m.bank === "" ? null : `${m.amount} ${m.bank}`);
const byDay = (m: Movement) => `${m.amount} ${m.booked}`;
const differ = (a: string, b: string) => a !== "" && b !== "" && a !== b;
const onlyOf = (group: readonly Movement[]) => (group.length === 1 ? group[0] : undefined);

function groupsOf(of: readonly Movement[], key: (m: Movement) => string | null) {
  const groups = new Map<string, Movement[]>();
  for (const m of of) {
    const k = key(m);
    if (k === null) continue;
    const at = groups.get(k);
    if (at) at.push(m);
    else groups.set(k, [m]);
  }
  return groups;
}
