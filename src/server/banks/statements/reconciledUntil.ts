import { sql, type SQL } from "drizzle-orm";

/** Up to which day a bank account is reconciled, as SQL; null where it is not. */
export const reconciledUntil = (account: SQL): SQL =>
  sql`(select max(r.date) from reconciliation r
    where r.bank_account_id = ${account} and r.reopened_at is null)`;
