import { type BankAddress } from "../banks";
import type { ItemDiscount } from "../ledger";
import { type ItemLeft } from "../openItems";
import { minor, proportion, type CalendarDate, type Minor } from "../shared";

/**
 * What a tax of the invoice behind an item came to, in the item's currency, signed as on the paper:
 * a line taken off may have a code of its own.
 */
export interface ItemTax {
  code: string;
  base: Minor;
  tax: Minor;
  recoverable: Minor;
  /** As they were recorded, in functional currency: whatever takes them back, does so by this. */
  functionalBase: Minor;
  functionalTax: Minor;
  reverse: boolean;
  account: string;
  owedAccount: string;
}

/** An open item of a supplier, as a payment run sees it. Owed is negative, as in the ledger. */
export interface PayableItem extends ItemLeft {
  kind: string;
  reference: string;
  /** The day on which it stands in the ledger: it is not settled before. */
  date: CalendarDate;
  due: CalendarDate;
  /** What it was made with, signed alike. */
  amount: Minor;
  discounts: readonly ItemDiscount[];
  /** What credit notes that correct it, and are still open, take off it; positive. */
  credited: Minor;
  hold: string;
  /** Number of the run that has taken it. */
  takenBy: string | null;
  taxes: readonly ItemTax[];
}

/** A supplier, with the bank account that was confirmed: empty where none is. */
export interface PayableSupplier extends BankAddress {
  code: string;
  name: string;
  method: "transfer" | "cheque" | "manual";
  hold: string;
  blocked: boolean;
  /** Which of its bank accounts it is, and who holds it where that is somebody else. */
  bankId: number | null;
  holder: string;
  /** Of its address. */
  town: string;
  /** Whether a changed bank account waits for a second person. */
  bankWaits: boolean;
}

/** How the discount is reckoned where less is paid than what settles the item. */
export const DISCOUNT_ON_PART = ["in proportion", "none"] as const;

export type DiscountOnPart = (typeof DISCOUNT_ON_PART)[number];

export const size = (n: bigint): Minor => minor(n < 0n ? -n : n);

/**
 * The best discount that paying on a day still earns, for what is left less what open credit notes
 * take off it: in proportion to what it was made with. Rounding: half away from zero.
 */
export function discountOn(
  item: Pick<PayableItem, "amount" | "left" | "discounts" | "credited">,
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
  item: Pick<PayableItem, "amount" | "discounts">,
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
