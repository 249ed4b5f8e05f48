import { sql } from "drizzle-orm";
import { effectOf, type DraftLine, type Effect, type Masters } from "@/core/ledger";
import type { Period } from "@/core/organisation";
import { rows, type Db } from "../db";

/**
 * What lines would do to the balances of a company at the end of a period, year-end closing left
 * out. One query.
 */
export async function effectIn(
  tx: Db,
  masters: Masters,
  companyId: number,
  bookId: number,
  period: Pick<Period, "yearId" | "no">,
  lines: readonly DraftLine[],
): Promise<Effect> {
  const company = masters.companyById.get(companyId)!;
  const found = await rows<{ accountId: number; closing: bigint; movement: bigint }>(
    tx,
    sql`select b.account_id as "accountId", sum(b.debit - b.credit)::bigint as closing,
      coalesce(sum(b.debit - b.credit) filter (where b.period_no = ${period.no}),
      0)::bigint as movement
        from account_balance b where b.company_id = ${companyId} and b.book_id in (0, ${bookId})
          and b.year_id = ${period.yearId} and b.period_no <= ${period.no} and not b.closing
          group by 1`,
  );
  const held = new Map(found.map((f) => [f.accountId, f]));
  return effectOf(
    lines,
    masters.accounts.map((account) => ({
      account,
      closing: held.get(account.id)?.closing ?? 0n,
      movement: held.get(account.id)?.movement ?? 0n,
    })),
    company.code,
    company.currency,
  );
}
