import { minor, type Minor } from "@/core/shared";
import type { OpenItemRow } from "@/server/openItems";

export interface Pair {
  first: OpenItemRow;
  second: OpenItemRow;
  /** Positive, in the items' currency. */
  amount: Minor;
}

/**
 * Chosen items as pairs that settle each other, the oldest first, within each currency. What has no
 * counterpart is left alone.
 */
export function pairOff(items: readonly OpenItemRow[]): Pair[] {
  const pairs: Pair[] = [];
  for (const currency of new Set(items.map((i) => i.currency))) {
    const queue = (sign: 1 | -1) =>
      items
        .filter((i) => i.currency === currency && (sign === 1 ? i.left > 0n : i.left < 0n))
        .sort((a, b) => (a.dueDate < b.dueDate ? -1 : 1))
        .map((item) => ({ item, left: item.left < 0n ? -item.left : item.left }));
    const [credits, debits] = [queue(-1), queue(1)];
    while (credits[0] && debits[0]) {
      const amount = credits[0].left < debits[0].left ? credits[0].left : debits[0].left;
      pairs.push({ first: credits[0].item, second: debits[0].item, amount: minor(amount) });
      for (const list of [credits, debits]) {
        list[0]!.left -= amount;
        if (list[0]!.left === 0n) list.shift();
      }
    }
  }
  return pairs;
}
