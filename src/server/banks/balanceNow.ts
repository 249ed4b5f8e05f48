import { sql, type SQL } from "drizzle-orm";
import type { Context } from "../access";

/**
 * What the ledger has on a bank account `b` of a company `c`, with its ledger account `a`, at the end
 * of today, in the bank account's currency: from the kept balances, less what is dated ahead.
 */
export const balanceNow = ({ masters, today }: Context): SQL => sql`(
    coalesce((select sum(case when b.currency = c.currency
        then v.debit - v.credit else v.foreign_debit - v.foreign_credit end)
      from coding_balance v where v.company_id = b.company_id and v.account_id = a.id
        and v.book_id in (0, ${masters.mainBook!.id})
        and (b.currency = c.currency or v.currency = b.currency)), 0)
    - coalesce((select sum(case n.side when 'D' then x.own else -x.own end)
      from journal_line n cross join lateral (select case when b.currency = c.currency
        then n.amount else n.foreign_amount end as own) x
      where n.company_id = b.company_id and n.account_id = a.id and n.date > ${today}
        and n.book_id in (0, ${masters.mainBook!.id})
        and (b.currency = c.currency or n.currency = b.currency)), 0))::bigint`;
