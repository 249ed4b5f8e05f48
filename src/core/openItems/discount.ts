import type { ItemDiscount } from "../ledger";
import { minor, proportion, type CalendarDate, type Minor } from "../shared";

/** An open item with its discounts, whichever of the two owes the other: only sizes count. */
export interface DiscountedItem {
  /** What it was made with, and what is left of it; signed alike. */
  amount: Minor;
  left: Minor;
  discounts: readonly ItemDiscount[];
  /** What credit notes that correct it, and are still open, take off it; positive. */
  credited: Minor;
}

const size = (n: bigint): Minor => minor(n < 0n ? -n : n);

/**
 * The best discount that paying on a day still earns, for what is left less what open credit notes
 * take off it: in proportion to what it was made with. Rounding: half away from zero.
 */
export function discountOn(
  item: DiscountedItem,
  day: CalendarDate,
): { amount: Minor; until: CalendarDate; percent: string } | null {
  const owed = size(item.left) - item.credited;
  const base = minor(owed > 0n ? owed : 0n);
  let best: { amount: Minor; until: CalendarDate; percent: string } | null = null;
  for (const d of item.discounts) {
    const amount =
      base === size(item.amount) ? d.amount : proportion(d.amount, base, size(item.amount));
    if (d.until >= day && amount > 0n && (!best || amount > best.amount))
      best = { amount, until: d.until, percent: d.percent };
  }
  return best;
}

/**
 * What of the best discount that there ever was is not had on the part of an item that is settled.
 * `taken` and `had` are positive. Rounding: half away from zero.
 */
export function discountLost(
  item: Pick<DiscountedItem, "amount" | "discounts">,
  taken: Minor,
  had: Minor,
): Minor {
  const best = proportion(
    item.discounts.reduce((most, d) => (d.amount > most ? d.amount : most), 0n),
    taken,
    size(item.amount),
  );
  return minor(best > had ? best - had : 0n);
}
