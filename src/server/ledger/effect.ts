import { sql } from "drizzle-orm";
import type { Period } from "@/core/organisation";
import { rows, type Db } from "../db";

/** Result of one period in one book, functional minor units, profit positive, year-end closing left out. */
export async function resultOfPeriod(tx: Db, companyId: number, bookId: number, period: Pick<Period, "yearId" | "no">): Promise<bigint> {
  const [row] = await rows<{ result: bigint }>(
    tx,
    sql`select coalesce(sum(b.credit - b.debit), 0)::bigint as result from account_balance b join account a on a.id = b.account_id
        where b.company_id = ${companyId} and b.book_id in (0, ${bookId}) and b.year_id = ${period.yearId} and b.period_no = ${period.no} and not b.closing and a.type in ('income', 'expense')`,
  );
  return row!.result;
}
