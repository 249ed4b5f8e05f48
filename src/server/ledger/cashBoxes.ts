import { sql } from "drizzle-orm";
import { cashBelowNil, type CashDay, type PreparedJournal } from "@/core/ledger";
import { amountText, dateText, fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";

interface Box {
  code: string;
  companyId: number;
  accountId: number;
  account: string;
  currency: string;
}

/** Refuses what would leave a cash box with less than nothing at the end of a day. */
export async function checkCashBoxes(
  tx: Db,
  journals: readonly PreparedJournal[],
): Promise<Result<unknown>> {
  const touched = journals.filter((j) => j.lines.some((l) => l.account.control === "bank"));
  if (touched.length === 0) return ok({});
  const boxes = await rows<Box>(
    tx,
    sql`select b.code, b.company_id as "companyId", a.id as "accountId", a.number as account,
        b.currency
      from bank_account b join account a on a.number = b.account
      where b.kind = 'cash'
        and b.company_id = any(${arrayOf([...new Set(touched.map((j) => j.company.id))])}::int[])
      order by b.id`,
  );
  for (const box of boxes) {
    const added = movesOf(box, touched);
    if (added.length === 0) continue;
    const { before, there } = await heldFrom(tx, box, added.map((d) => d.date).sort()[0]!);
    const short = cashBelowNil(before, there, added);
    if (short)
      return fail({
        code: "INVALID",
        what: `Cash box ${box.code} would hold ${amountText(minor(short.holds), box.currency)} ${box.currency} at the end of ${dateText(short.date)}; nobody takes out what is not in it`,
        field: "amount",
      });
  }
  return ok({});
}

const movesOf = (box: Box, journals: readonly PreparedJournal[]): CashDay[] =>
  journals
    .filter((j) => j.company.id === box.companyId)
    .flatMap((j) =>
      j.lines
        .filter((l) => l.account.number === box.account && l.currency === box.currency)
        .map((l) => ({
          date: j.date,
          amount: l.side === "debit" ? l.foreignAmount : minor(-l.foreignAmount),
        })),
    );

async function heldFrom(
  tx: Db,
  box: Box,
  day: string,
): Promise<{ before: Minor; there: CashDay[] }> {
  const found = await rows<{ date: string | null; amount: bigint }>(
    tx,
    sql`select case when j.date < ${day} then null else j.date end as date,
        sum(case n.side when 'D' then n.foreign_amount else -n.foreign_amount end)::bigint as amount
      from journal_line n join journal j on j.id = n.journal_id
      where n.account_id = ${box.accountId} and j.company_id = ${box.companyId}
        and n.currency = ${box.currency} group by 1 order by 1`,
  );
  return {
    before: minor(found.find((f) => f.date === null)?.amount ?? 0n),
    there: found.flatMap((f) =>
      f.date === null ? [] : [{ date: f.date, amount: minor(f.amount) }],
    ),
  };
}
