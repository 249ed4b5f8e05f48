import { sql } from "drizzle-orm";
import type { CalendarDate } from "@/core/shared";
import { arrayOf, rows } from "../db";
import type { Context } from "../access";
import { loadPeriods } from "../organisation";

/** Debit positive, in minor units of the currency and of the company's. */
export interface BalanceInCurrency {
  currency: string;
  amount: bigint;
  functional: bigint;
}

/**
 * What accounts stood at on a day by the currencies of their lines, in the main book: from the
 * stored balances up to the last whole period, and the lines since. Balance sheet accounts only, as
 * no year is begun anew.
 */
export async function balancesByCurrencyOn(
  { tx, masters }: Context,
  companyId: number,
  accountIds: readonly number[],
  on: CalendarDate,
): Promise<BalanceInCurrency[]> {
  const whole = (await loadPeriods(tx, [companyId], { areas: ["ledger"] })).filter(
    (p) => p.end <= on,
  );
  const since = whole.at(-1)?.end ?? "0001-01-01";
  const inBooks = sql`company_id = ${companyId} and account_id = any(${arrayOf(accountIds)}::int[])
    and book_id in (0, ${masters.mainBook!.id})`;
  return rows<BalanceInCurrency>(
    tx,
    sql`select currency, sum(amount)::bigint as amount, sum(functional)::bigint as functional from (
        select currency, foreign_debit - foreign_credit as amount, debit - credit as functional
          from coding_balance where ${inBooks} and (year_id, period_no) in (
            select * from unnest(${arrayOf(whole.map((p) => p.yearId))}::int[],
              ${arrayOf(whole.map((p) => p.no))}::smallint[]))
        union all
        select currency, case when side = 'D' then foreign_amount else -foreign_amount end,
          case when side = 'D' then amount else -amount end
          from journal_line where ${inBooks} and date > ${since} and date <= ${on}) x
      group by currency order by currency`,
  );
}
