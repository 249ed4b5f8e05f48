import type { BankAddress, PaymentMethod } from "../banks";
import type { ItemDiscount } from "../ledger";
import { type ItemLeft } from "../openItems";
import type { ItemTax } from "../taxes";
import { minor, type CalendarDate, type Minor } from "../shared";

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
  /** Whether it is a customer's, who is paid back: no discount is had of it. */
  paidBack?: boolean;
  /** Number of the run that has taken it. */
  takenBy: string | null;
  taxes: readonly ItemTax[];
}

/** A supplier, with the bank account that was confirmed: empty where none is. */
export interface PayableSupplier extends BankAddress {
  code: string;
  name: string;
  method: PaymentMethod;
  hold: string;
  blocked: boolean;
  /** Which of its bank accounts it is, and who holds it where that is somebody else. */
  bankId: number | null;
  holder: string;
  /** Of its address. */
  town: string;
  /** What payments to it are for; "" where their kind says it. */
  purpose: string;
  /** Whether a changed bank account waits for a second person. */
  bankWaits: boolean;
}

/** How the discount is reckoned where less is paid than what settles the item. */
export const DISCOUNT_ON_PART = ["in proportion", "none"] as const;

export type DiscountOnPart = (typeof DISCOUNT_ON_PART)[number];

export const size = (n: bigint): Minor => minor(n < 0n ? -n : n);
