import { sql, type SQL } from "drizzle-orm";
import { NAMED, type Check } from "../../checks";
import { arrayOf, rows, type Db } from "../../db";

/** Lines as balances tell them apart; no counterparty is company 0. */
const LINES = sql`(select company_id, book_id, year_id, period_no, closing, account_id, coding_id,
  currency, coalesce(counterparty_id, 0) as counterparty_id,
  case when side = 'D' then amount else 0 end as debit,
  case when side = 'C' then amount else 0 end as credit,
  case when side = 'D' then foreign_amount else 0 end as foreign_debit,
  case when side = 'C' then foreign_amount else 0 end as foreign_credit
  from journal_line)`;

/** What later years open with: the net of balance sheet accounts, as a debit of period 0. */
const OPENINGS = sql`(select l.company_id, l.book_id, y2.id as year_id, 0::smallint as period_no,
  false as closing, l.account_id, l.debit - l.credit as debit, 0::bigint as credit
  from ${LINES} l join account a on a.id = l.account_id
    and a.type in ('asset', 'liability', 'equity', 'units')
  join fiscal_year y1 on y1.id = l.year_id
  join fiscal_year y2 on y2.company_id = l.company_id and y2.start_date > y1.start_date)`;

const STRETCH = sql`company_id, book_id, year_id, period_no, closing`;

/** Balances by account, rebuilt from the lines. */
const byAccount = sql`select ${STRETCH}, account_id, sum(debit)::bigint as debit,
    sum(credit)::bigint as credit
  from (select ${STRETCH}, account_id, debit, credit from ${LINES} l
    union all select ${STRETCH}, account_id, debit, credit from ${OPENINGS} o) t
  group by ${STRETCH}, account_id`;

/** Balances by coding, currency and counterparty, rebuilt from the lines. */
const byCoding = sql`select ${STRETCH}, account_id, coding_id, currency, counterparty_id,
    sum(debit)::bigint as debit, sum(credit)::bigint as credit,
    sum(foreign_debit)::bigint as foreign_debit, sum(foreign_credit)::bigint as foreign_credit
  from ${LINES} l group by ${STRETCH}, account_id, coding_id, currency, counterparty_id`;

async function compareBalances(
  tx: Db,
  name: string,
  of: { table: SQL; rebuilt: SQL; keys: SQL; amounts: readonly string[] },
): Promise<Check> {
  const both = (side: string) => sql.raw(of.amounts.map((a) => `${side}.${a}`).join(", "));
  const moved = sql.raw(of.amounts.map((a) => `${a} <> 0`).join(" or "));
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select concat_ws(' ', 'company', company_id, 'book', book_id, 'year', year_id, 'period',
      period_no, 'account', account_id, 'stored', coalesce(s.debit - s.credit, 0), 'lines',
      coalesce(r.debit - r.credit, 0)) as fault
        from (select * from ${of.table} where ${moved}) s
          full join (select * from (${of.rebuilt}) q where ${moved}) r
          using (${STRETCH}, ${of.keys})
        where (${both("s")}) is distinct from (${both("r")}) limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from ${of.table}`);
  return { name, looked: count!.n, faults: faults.map((f) => f.fault) };
}

export const balancesAgainstLines = (tx: Db) =>
  compareBalances(tx, "Stored balances equal the journal lines", {
    table: sql`account_balance`,
    rebuilt: byAccount,
    keys: sql`account_id`,
    amounts: ["debit", "credit"],
  });
export const codingsAgainstLines = (tx: Db) =>
  compareBalances(tx, "Balances by coding equal the journal lines", {
    table: sql`coding_balance`,
    rebuilt: byCoding,
    keys: sql`account_id, coding_id, currency, counterparty_id`,
    amounts: ["debit", "credit", "foreign_debit", "foreign_credit"],
  });

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
