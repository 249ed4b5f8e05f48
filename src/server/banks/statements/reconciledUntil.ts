import { sql, type SQL } from "drizzle-orm";

/** Up to which day a bank account is reconciled, as SQL; null where it is not. */
export const reconciledUntil = (account: SQL): SQL =>
  sql`(select max(r.date) from reconciliation r
    where r.bank_account_id = ${account} and r.reopened_at is null)`;

/** The same as it was at an earlier moment. */
export const reconciledThen = (account: SQL, at: Date): SQL =>
  sql`(select max(r.date) from reconciliation r
    where r.bank_account_id = ${account} and r.closed_at <= ${at.toISOString()}
      and (r.reopened_at is null or r.reopened_at > ${at.toISOString()}))`;
