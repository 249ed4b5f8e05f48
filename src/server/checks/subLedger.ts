import type { SQL } from "drizzle-orm";
import type { ControlKind } from "@/core/ledger";

/**
 * A list that stands behind the control accounts of one kind, as the area that keeps it defines it.
 * Verification, the checks of the close and the reconciliation hold it against the accounts.
 */
export interface SubLedger {
  control: ControlKind;
  /** “Payables”: as a heading. */
  name: string;
  /** What it lists: “open items”. */
  lists: string;
  /**
   * All that has moved it, ever, as a query with the columns company_id, account_id, partner,
   * currency, date, known_at, amount and functional; debit positive, in minor units of the currency
   * and of the company's. What the list does not know is null in every row, and it is held against
   * the accounts without it.
   */
  movements: SQL;
  /** By what its movements and the lines of the accounts can be told apart. */
  by: readonly ("account" | "partner" | "currency")[];
  /**
   * Whether books differ in it: its movements then have a column book_id too, 0 for what belongs to
   * all of them. Other lists are the same in every book.
   */
  byBook?: true;
  /** The page that shows the list. */
  page: string;
}
