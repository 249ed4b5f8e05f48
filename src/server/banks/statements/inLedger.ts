import { sql } from "drizzle-orm";

/** A line of the ledger in its own currency: money had is above nil. */
export const SIGNED = sql`case n.side when 'D' then n.foreign_amount else -n.foreign_amount end`;

/** The lines of the ledger that stand on the account of a bank account b, in its currency. */
export const IN_LEDGER = sql`bank_account b join account a on a.number = b.account
  join journal_line n on n.account_id = a.id and n.currency = b.currency
  join journal j on j.id = n.journal_id and j.company_id = b.company_id`;

/**
 * The same after the opening of the account's first statement: up to then the bank's own balance
 * stands for all there was. Some banks give it the day of the first line.
 */
export const IN_LEDGER_SINCE = sql`${IN_LEDGER} cross join lateral (
    select least(min(s.opening_date), min(l.booked) - 1) as since
    from bank_statement s left join statement_line l on l.statement_id = s.id
    where s.bank_account_id = b.id) f
  where j.date > f.since`;
