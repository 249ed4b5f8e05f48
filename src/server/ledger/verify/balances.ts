import { sql, type SQL } from "drizzle-orm";
import { NAMED, type Check } from "../../checks";
import { arrayOf, rows, type Db } from "../../db";

/**
 * Turnover from the lines, with or without the openings of later years, in the shape of a balance
 * table.
 */
const rebuilt = (keys: SQL, openings: boolean): SQL => sql`
  select company_id, book_id, year_id, period_no, closing, ${keys}, sum(debit)::bigint as debit,
    sum(credit)::bigint as credit from (
    select l.company_id, l.book_id, l.year_id, l.period_no, l.closing, ${keys},
      case when side = 'D' then amount else 0 end as debit, case when side = 'C' then amount
      else 0 end as credit from journal_line l
    ${
      openings
        ? sql`union all
    select l.company_id, l.book_id, y2.id, 0::smallint, false, ${keys},
      case when side = 'D' then amount else -amount end, 0 from journal_line l
      join account a on a.id = l.account_id and a.type in ('asset', 'liability', 'equity', 'units')
      join fiscal_year y1 on y1.id = l.year_id join fiscal_year y2 on y2.company_id = l.company_id
        and y2.start_date > y1.start_date`
        : sql``
    }
  ) t group by company_id, book_id, year_id, period_no, closing, ${keys}`;

async function compareBalances(
  tx: Db,
  table: SQL,
  keys: SQL,
  openings: boolean,
  columns: string,
  name: string,
): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select concat_ws(' ', 'company', company_id, 'book', book_id, 'year', year_id, 'period',
      period_no, 'account', account_id, 'stored', coalesce(s.debit - s.credit, 0), 'lines',
      coalesce(r.debit - r.credit, 0)) as fault
        from (select * from ${table} where debit <> 0 or credit <> 0) s full
          join (select * from (${rebuilt(keys, openings)}) q
          where debit <> 0 or credit <> 0) r using (${sql.raw(columns)})
        where (s.debit, s.credit) is distinct from (r.debit, r.credit) limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from ${table}`);
  return { name, looked: count!.n, faults: faults.map((f) => f.fault) };
}

export const balancesAgainstLines = (tx: Db) =>
  compareBalances(
    tx,
    sql`account_balance`,
    sql`account_id`,
    true,
    "company_id, book_id, year_id, period_no, closing, account_id",
    "Stored balances equal the journal lines",
  );
export const codingsAgainstLines = (tx: Db) =>
  compareBalances(
    tx,
    sql`coding_balance`,
    sql`account_id, coding_id, currency`,
    false,
    "company_id, book_id, year_id, period_no, closing, account_id, coding_id, currency",
    "Balances by coding equal the journal lines",
  );

/**
 * How many stored balances of these periods differ from the lines that they are made of: what a
 * close asks, a small part of verify.
 */
export async function periodBalancesDiffer(
  tx: Db,
  companyId: number,
  periods: readonly { yearId: number; no: number }[],
): Promise<number> {
  const wanted = sql`(select * from unnest(${arrayOf(periods.map((p) => p.yearId))}::int[],
    ${arrayOf(periods.map((p) => p.no))}::smallint[]))`;
  const [row] = await rows<{ n: number }>(
    tx,
    sql`select count(*)::int as n from (select book_id, year_id, period_no, account_id, closing,
      debit, credit from account_balance where company_id = ${companyId} and (year_id,
      period_no) in ${wanted} and (debit <> 0 or credit <> 0)) s
        full join (select l.book_id, l.year_id, l.period_no, l.closing, l.account_id,
          sum(case when l.side = 'D' then l.amount else 0 end)::bigint as debit,
          sum(case when l.side = 'C' then l.amount else 0 end)::bigint as credit
          from journal j join journal_line l on l.journal_id = j.id
            where j.company_id = ${companyId} and (j.year_id, j.period_no) in ${wanted}
            group by 1, 2, 3, 4, 5) r using (book_id, year_id, period_no, closing, account_id)
        where (coalesce(s.debit, 0), coalesce(s.credit, 0)) is distinct
          from (coalesce(r.debit, 0), coalesce(r.credit, 0))`,
  );
  return row!.n;
}
