import { sql, type SQL } from "drizzle-orm";
import { isResult, type Masters } from "@/core/ledger";
import type { FiscalYear } from "@/core/organisation";
import type { Turnover } from "@/core/statements";
import { arrayOf, rows, type Db } from "../db";

export interface BalanceFilter {
  companyId: number;
  bookId: number;
  yearIds: readonly number[];
  /** With year-end closing journals; without them by default. */
  withClosing?: boolean;
  /** Values of dimensions, each list one condition; a line has to meet all. */
  values?: readonly (readonly number[])[];
  /** Only what the company's chain held up to this journal: the ledger as known then. */
  asKnownSeq?: bigint | undefined;
  accountIds?: readonly number[];
  upTo?: { yearId: number; no: number };
}

/**
 * Turnover by year, period and account from the stored balances: a small query over a large ledger.
 * As known then: the stored balances less the journals posted after that moment, their effect on
 * later openings included.
 */
export async function loadTurnover(
  tx: Db,
  filter: BalanceFilter,
  masters: Masters,
  years: readonly FiscalYear[],
): Promise<Turnover[]> {
  const coded = (filter.values?.length ?? 0) > 0;
  const where: SQL[] = [
    sql`b.company_id = ${filter.companyId}`,
    sql`b.book_id in (0, ${filter.bookId})`,
    sql`b.year_id = any(${arrayOf(filter.yearIds)}::int[])`,
    ...(filter.withClosing ? [] : [sql`not b.closing`]),
    ...(filter.accountIds ? [sql`b.account_id = any(${arrayOf(filter.accountIds)}::int[])`] : []),
    ...(filter.upTo
      ? [sql`(b.year_id <> ${filter.upTo.yearId} or b.period_no <= ${filter.upTo.no})`]
      : []),
  ];
  const codings = (filter.values ?? []).map((list) => sql`k.value_ids && ${arrayOf(list)}::int[]`);
  const current = coded
    ? await codedTurnover(tx, filter, codings, masters, years)
    : await packedTurnover(tx, where);
  if (filter.asKnownSeq === undefined) return current;
  const later = await rows<Turnover & { closing: boolean }>(
    tx,
    sql`select b.year_id as "yearId", b.period_no as "periodNo", b.account_id as "accountId",
      b.closing, coalesce(sum(b.amount) filter (where b.side = 'D'), 0)::bigint as debit,
      coalesce(sum(b.amount) filter (where b.side = 'C'), 0)::bigint as credit
        from journal_line b join coding k on k.id = b.coding_id
        where b.company_id = ${filter.companyId} and b.seq > ${filter.asKnownSeq}
          and b.book_id in (0, ${filter.bookId})
          ${
            filter.accountIds
              ? sql`and b.account_id =
            any(${arrayOf(filter.accountIds)}::int[])`
              : sql``
          } ${
            coded
              ? sql`and
            ${sql.join(codings, sql` and `)}`
              : sql``
          }
        group by 1, 2, 3, 4`,
  );
  return [...current, ...openYears(later, filter, masters, years, -1n)];
}

/**
 * Turnover of whole accounts. One row per account with its periods packed into a text: the driver
 * takes rows apart one value at a time,
 * and a year of a chart is thousands of them.
 */
async function packedTurnover(tx: Db, where: SQL[]): Promise<Turnover[]> {
  const found = await rows<{ accountId: number; cells: string }>(
    tx,
    sql`select b.account_id as "accountId",
      string_agg(b.year_id || ' ' || b.period_no || ' ' || b.debit || ' ' || b.credit, ',') as cells
      from account_balance b where ${sql.join(where, sql` and `)} group by 1`,
  );
  const result: Turnover[] = [];
  for (const { accountId, cells } of found)
    for (const cell of cells.split(",")) {
      const [yearId, periodNo, debit, credit] = cell.split(" ") as [string, string, string, string];
      result.push({
        yearId: Number(yearId),
        periodNo: Number(periodNo),
        accountId,
        debit: BigInt(debit),
        credit: BigInt(credit),
      });
    }
  return result;
}

/** Turnover of chosen codings, with their openings summed from the years before. */
async function codedTurnover(
  tx: Db,
  filter: BalanceFilter,
  codings: SQL[],
  masters: Masters,
  years: readonly FiscalYear[],
): Promise<Turnover[]> {
  const found = await rows<Turnover & { closing: boolean }>(
    tx,
    sql`select b.year_id as "yearId", b.period_no as "periodNo", b.account_id as "accountId",
      b.closing, sum(b.debit)::bigint as debit, sum(b.credit)::bigint as credit
        from coding_balance b join coding k on k.id = b.coding_id
          where b.company_id = ${filter.companyId} and b.book_id in (0, ${filter.bookId})
          ${
            filter.accountIds
              ? sql`and b.account_id =
            any(${arrayOf(filter.accountIds)}::int[])`
              : sql``
          } and ${sql.join(codings, sql` and `)}
            group by 1, 2, 3, 4`,
  );
  return openYears(found, filter, masters, years, 1n);
}

/**
 * Puts turnover of any years into the years asked for: as it is within them, and as openings of
 * those after it.
 */
function openYears(
  found: readonly (Turnover & { closing: boolean })[],
  filter: BalanceFilter,
  masters: Masters,
  years: readonly FiscalYear[],
  sign: bigint,
): Turnover[] {
  const result: Turnover[] = [];
  const start = new Map(years.map((y) => [y.id, y.start]));
  for (const row of found) {
    // Closing journals may be left out of their own year, but they are in the openings after it.
    const shown =
      (filter.withClosing || !row.closing) &&
      filter.yearIds.includes(row.yearId) &&
      (!filter.upTo || row.yearId !== filter.upTo.yearId || row.periodNo <= filter.upTo.no);
    if (shown)
      result.push({
        yearId: row.yearId,
        periodNo: row.periodNo,
        accountId: row.accountId,
        debit: sign * row.debit,
        credit: sign * row.credit,
      });
    const type = masters.accountById.get(row.accountId)?.type;
    if (type && !isResult(type))
      for (const yearId of filter.yearIds)
        if (start.get(yearId)! > start.get(row.yearId)!)
          result.push({
            yearId,
            periodNo: 0,
            accountId: row.accountId,
            debit: sign * (row.debit - row.credit),
            credit: 0n,
          });
  }
  return result;
}

/**
 * Turnover in the currencies of the transactions, by currency, with openings; units under the code
 * for no currency. Otherwise as `loadTurnover`.
 */
export async function loadCurrencyTurnover(
  tx: Db,
  filter: BalanceFilter,
  masters: Masters,
  years: readonly FiscalYear[],
): Promise<ReadonlyMap<string, Turnover[]>> {
  type Row = Turnover & { closing: boolean; currency: string };
  const codings = (filter.values ?? []).map(
    (list) => sql`and k.value_ids && ${arrayOf(list)}::int[]`,
  );
  const where = sql`b.company_id = ${filter.companyId} and b.book_id in (0,
    ${filter.bookId}) ${
      filter.accountIds
        ? sql`and b.account_id =
    any(${arrayOf(filter.accountIds)}::int[])`
        : sql``
    } ${sql.join(codings, sql` `)}`;
  const found = await rows<Row>(
    tx,
    sql`select b.year_id as "yearId", b.period_no as "periodNo", b.account_id as "accountId",
      b.closing, b.currency, sum(b.foreign_debit)::bigint as debit,
      sum(b.foreign_credit)::bigint as credit
        from coding_balance b join coding k on k.id = b.coding_id where ${where} group by 1, 2, 3, 4, 5`,
  );
  const later =
    filter.asKnownSeq === undefined
      ? []
      : await rows<Row>(
          tx,
          sql`select b.year_id as "yearId", b.period_no as "periodNo", b.account_id as "accountId",
            b.closing, b.currency, coalesce(sum(b.foreign_amount) filter (where b.side = 'D'),
            0)::bigint as debit, coalesce(sum(b.foreign_amount) filter (where b.side = 'C'),
            0)::bigint as credit
        from journal_line b join coding k on k.id = b.coding_id
          where b.seq > ${filter.asKnownSeq} and ${where} group by 1, 2, 3, 4, 5`,
        );
  const currencies = [...new Set(found.map((f) => f.currency))].sort();
  return new Map(
    currencies.map((currency) => [
      currency,
      [
        ...openYears(
          found.filter((f) => f.currency === currency),
          filter,
          masters,
          years,
          1n,
        ),
        ...openYears(
          later.filter((f) => f.currency === currency),
          filter,
          masters,
          years,
          -1n,
        ),
      ],
    ]),
  );
}
