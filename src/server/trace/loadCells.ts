import { sql, type SQL } from "drizzle-orm";
import { cellsByAccount, type Cell, type Cells } from "@/core/trace";
import { arrayOf, rows } from "../db";
import type { Context } from "../access";
import type { ReportPlace } from "../ledger";

/** The condition that a line's coding has one of the values of each list. */
export const meets = (values: readonly number[][]): SQL =>
  values.length > 0
    ? sql`and ${sql.join(
        values.map((v) => sql`k.value_ids && ${arrayOf(v)}::int[]`),
        sql` and `,
      )}`
    : sql``;

/** Turnover of the accounts by period, closing journals apart, as the place knows it. */
export async function loadCells(
  { tx }: Context,
  place: ReportPlace,
  accountIds: readonly number[],
  values: readonly number[][],
): Promise<Cells> {
  if (accountIds.length === 0) return new Map();
  const coded = values.length > 0;
  const condition = meets(values);
  const stored = await rows<Cell>(
    tx,
    sql`select b.year_id as "yearId", b.period_no as "periodNo", b.closing,
      b.account_id as "accountId", sum(b.debit)::bigint as debit, sum(b.credit)::bigint as credit
        from ${coded ? sql`coding_balance b join coding k on k.id = b.coding_id` : sql`account_balance b`}
        where b.company_id = ${place.company.id} and b.book_id in (0, ${place.book.id})
          and b.period_no > 0 and b.account_id = any(${arrayOf(accountIds)}::int[]) ${condition}
          group by 1, 2, 3, 4`,
  );
  if (place.asKnownSeq === undefined) return cellsByAccount(stored);
  const later = await rows<Cell>(
    tx,
    sql`select b.year_id as "yearId", b.period_no as "periodNo", b.closing,
      b.account_id as "accountId", -coalesce(sum(b.amount) filter (where b.side = 'D'),
      0)::bigint as debit, -coalesce(sum(b.amount) filter (where b.side = 'C'), 0)::bigint as credit
        from journal_line b join coding k on k.id = b.coding_id
          where b.company_id = ${place.company.id} and b.seq > ${place.asKnownSeq}
          and b.book_id in (0, ${place.book.id})
          and b.account_id = any(${arrayOf(accountIds)}::int[]) ${condition} group by 1, 2, 3, 4`,
  );
  return cellsByAccount([...stored, ...later]);
}
