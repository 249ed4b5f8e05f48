import { sql, type SQL } from "drizzle-orm";

/**
 * Money between accounts of our own leaves two items under way, both made by one payment: what leaves
 * the one account, negative, and what comes to the other. Payments to and from others leave one.
 */

/** Whether an item is what leaves, or comes by, the payment's own bank account. */
export const isOwnSide = (item: string, payment: string): SQL =>
  sql.raw(`(${payment}.to_bank_id is null or ${item}.amount < 0)`);

/** The bank account that an item of a payment is under way from or to. */
export const bankOfSide = (item: string, payment: string): SQL =>
  sql.raw(
    `case when ${item}.amount > 0 then coalesce(${payment}.to_bank_id, ${payment}.bank_account_id)
      else ${payment}.bank_account_id end`,
  );
