import { sql, type SQL } from "drizzle-orm";
import type { SubLedger } from "../checks";
import { rows, type Db } from "../db";

/**
 * Where a list and its control accounts say different things, told apart as finely as the list
 * knows; null where it doesn't. Amounts are debit positive, in minor units of the currency and of
 * the company's.
 */
export interface Difference {
  company: string;
  account: string | null;
  partner: string | null;
  currency: string | null;
  /** The one book that it belongs to, where the list knows; null for all. */
  book: string | null;
  heldAmount: bigint;
  held: bigint;
  listedAmount: bigint;
  listed: bigint;
}

/** All companies, or one; up to a day, or ever. */
export interface DifferencesAt {
  companyId?: number;
  on?: string;
}

export function differences(
  tx: Db,
  list: SubLedger,
  { companyId, on }: DifferencesAt,
  limit: number,
): Promise<Difference[]> {
  const told = (key: SubLedger["by"][number], column: SQL): SQL =>
    list.by.includes(key) ? column : sql`null`;
  const ofCompany = companyId === undefined ? sql`true` : sql`company_id = ${companyId}`;
  const upTo = on === undefined ? sql`true` : sql`date <= ${on}`;
  const inCurrency = list.by.includes("currency");
  return rows<Difference>(
    tx,
    sql`with held as (select l.company_id, ${told("account", sql`a.number`)} as account,
          ${told("partner", sql`coalesce(l.partner, '')`)} as partner,
          ${told("currency", sql`l.currency`)} as currency,
          ${list.byBook ? sql`l.book_id` : sql`0`} as book_id,
          case when l.side = 'D' then l.foreign_amount else -l.foreign_amount end as amount,
          case when l.side = 'D' then l.amount else -l.amount end as functional
          from (select * from journal_line where ${ofCompany} and ${upTo}) l
            join account a on a.id = l.account_id where a.control = ${list.control}),
        listed as (select m.company_id, a.number as account, m.partner, m.currency,
          ${list.byBook ? sql`m.book_id` : sql`0`} as book_id, m.amount, m.functional from (select * from (${list.movements}) x where ${ofCompany} and ${upTo}) m
            left join account a on a.id = m.account_id),
        sides as (
          select company_id, account, partner, currency, book_id, amount as held_amount,
            functional as held, 0 as listed_amount, 0 as listed from held
          union all select company_id, account, partner, currency, book_id, 0, 0,
            coalesce(amount, 0), functional from listed),
        sums as (select company_id, account, partner, currency, book_id,
            ${inCurrency ? sql`sum(held_amount)` : sql`0`}::bigint as held_amount,
            sum(held)::bigint as held,
            ${inCurrency ? sql`sum(listed_amount)` : sql`0`}::bigint as listed_amount,
            sum(listed)::bigint as listed from sides group by 1, 2, 3, 4, 5)
      select c.code as company, account, partner, s.currency, b.code as book, held_amount as "heldAmount", held,
        listed_amount as "listedAmount", listed
        from sums s join company c on c.id = s.company_id
          left join book b on b.id = s.book_id and s.book_id <> 0
        where (held_amount, held) <> (listed_amount, listed)
        order by c.code, account, partner, s.currency limit ${limit}`,
  );
}
