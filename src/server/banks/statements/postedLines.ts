import { sql } from "drizzle-orm";
import { minor, ok, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { setStatus } from "../../documents";
import type { PostedJournal } from "../../ledger";
import { settleTogether } from "../../openItems";
import { recordTaxes, takeBackParts } from "../../taxes";
import { recordMoney } from "../receipts/recordMoney";
import { MONEY } from "../moneyUnderWay";
import { taxOfMoney } from "../taxOfMoney";
import { isOwnSide } from "../sideOfTransfer";
import { matchOpenLines } from "./matchOpenLines";
import { paymentsReturned } from "./paymentsReturned";
import type { Posted } from "./planLines";

export async function linesPosted(
  context: Context,
  run: number,
  posted: readonly Posted[],
  journals: readonly PostedJournal[],
): Promise<Result<unknown>> {
  const { tx } = context;
  const ids = journals.map((j) => j.id);
  const returned = await paymentsReturned(
    context,
    posted.flatMap((p, i) => p.returned.map((r) => ({ ...r, journal: ids[i]! }))),
  );
  if (!returned.ok) return returned;
  const info = new Map(
    (
      await rows<{ id: bigint; seq: bigint; date: string; companyId: number }>(
        tx,
        sql`select id, seq, date, company_id as "companyId" from journal
          where id = any(${arrayOf(ids)}::bigint[])`,
      )
    ).map((j) => [Number(j.id), j]),
  );
  const journalsOf = ids.map((id) => ({ ...info.get(id)!, id }));
  await recordTaxes(
    tx,
    posted.flatMap((p, i) => {
      const { id, seq, date, companyId } = info.get(ids[i]!)!;
      return p.tax ? [taxOfMoney(context, p.tax, { id: Number(id), seq, date, companyId })] : [];
    }),
  );
  const made = await rows<{
    id: bigint;
    journalId: bigint;
    lineNo: number;
    left: bigint;
    leftFunctional: bigint;
  }>(
    tx,
    sql`select id, journal_id as "journalId", line_no as "lineNo", left_amount as "left",
      left_functional as "leftFunctional" from open_item
      where journal_id = any(${arrayOf(ids)}::bigint[]) order by id`,
  );
  const journalOf = new Map(posted.map((p, i) => [p.line, ids[i]!]));
  const left = (journal: number, upTo = Number.MAX_SAFE_INTEGER) =>
    made
      .filter((m) => Number(m.journalId) === journal && m.lineNo <= upTo)
      .map((m) => ({
        item: Number(m.id),
        amount: minor(m.left),
        functional: minor(m.leftFunctional),
      }));
  await settleTogether(
    context,
    "payment",
    posted.flatMap((p, i) => {
      const id = ids[i]!;
      const other = journalOf.get(p.other ?? 0);
      const lines =
        p.settles.length > 0
          ? [
              ...p.settles.map((s) => ({
                item: s.item,
                amount: s.taken,
                functional: s.functional,
              })),
              ...left(id, p.settling),
            ]
          : // Both sides of money between own accounts: settled once, by the later journal.
            other !== undefined && other < id
            ? [...left(other), ...left(id)]
            : [];
      return lines.length === 0
        ? []
        : [{ companyId: info.get(id)!.companyId, date: info.get(id)!.date, journalId: id, lines }];
    }),
  );
  const ofPartners = (s: { account: string }) =>
    context.masters.accountByNumber.get(s.account)?.control !== "transit";
  const documents = await recordMoney(
    context,
    posted.flatMap((p, i) =>
      p.money ? [{ ...p.money, journal: ids[i]!, items: p.settles.filter(ofPartners) }] : [],
    ),
  );
  await discountsTakeBack(context, posted, journalsOf, documents);
  await linkToBank(context, posted, ids, documents);
  await tx.execute(
    sql`update statement_line l set state = 'posted', journal_id = x.journal, run_id = ${run},
        version = version + 1
      from unnest(${arrayOf(posted.map((p) => p.line))}::bigint[], ${arrayOf(ids)}::bigint[])
        as x(line, journal) where l.id = x.line`,
  );
  await stateOfPayments(context, ids);
  // What is posted tells more: whose accounts are whose, and what can come back.
  const banks = await rows<{ id: number }>(
    tx,
    sql`select distinct bank_account_id as id from statement_line where run_id = ${run}`,
  );
  await matchOpenLines(
    context,
    banks.map((b) => b.id),
  );
  return ok({});
}

/** Takes back what discounts take of taxes: it hangs on the receipt or payment, else on the journal. */
async function discountsTakeBack(
  { tx }: Context,
  posted: readonly Posted[],
  journals: readonly { id: number; seq: bigint; date: string; companyId: number }[],
  documents: ReadonlyMap<number, number>,
): Promise<void> {
  const parts = posted.flatMap((p, i) => {
    const journal = journals[i]!;
    const payment = documents.get(journal.id) ?? journal.id;
    return (p.taxesBack ?? []).map((t) => ({ ...t, payment, journal }));
  });
  const [first] = journals;
  if (first) await takeBackParts(tx, first.companyId, parts);
}

/**
 * From each document that a line has paid or cleared to the journal of the line, but for what its
 * receipt or direct debit leads to.
 */
async function linkToBank(
  { tx }: Context,
  posted: readonly Posted[],
  ids: readonly number[],
  documents: ReadonlyMap<number, number>,
): Promise<void> {
  const taken = posted.flatMap((p, i) =>
    p.settles.map((s) => ({ item: s.item, journal: ids[i]!, led: documents.has(ids[i]!) })),
  );
  await tx.execute(
    sql`insert into document_link (from_id, to_id, kind)
      select distinct coalesce(y.id, i.document_id), x.journal,
        case when i.area = 'transit' then 'cleared' else 'paid' end
      from unnest(${arrayOf(taken.map((t) => t.item))}::bigint[],
          ${arrayOf(taken.map((t) => t.journal))}::bigint[],
          ${arrayOf(taken.map((t) => t.led))}::boolean[]) as x(item, journal, led)
        join open_item i on i.id = x.item
        left join lateral (select e.id from document_link k join document e on e.id = k.from_id
            and e.kind in ('payment', 'deposit', 'receipt')
          where k.to_id = i.journal_id and k.kind = 'made' limit 1) y on true
      where coalesce(y.id, i.document_id) <> x.journal and (i.area = 'transit' or not x.led)
      on conflict do nothing`,
  );
}

export const linesOfRun = ({ tx }: Context, run: number) =>
  rows<{ journalId: bigint }>(
    tx,
    sql`select journal_id as "journalId" from statement_line where run_id = ${run} order by id`,
  );

/**
 * Payments and receipts whose money under way these journals have touched: cleared where nothing is
 * left of it, else as they were before the bank had them.
 */
export async function stateOfPayments({ tx }: Context, journals: readonly number[]): Promise<void> {
  const touched = await rows<{ id: bigint; cleared: boolean; sent: boolean }>(
    tx,
    sql`select p.document_id as id, bool_and(i.left_amount = 0) as cleared,
        bool_or(p.file_id is not null) as sent
      from ${MONEY} p join document d on d.id = p.document_id
        join document_link k on k.from_id = p.document_id and k.kind = 'made'
        join open_item i on i.journal_id = k.to_id and i.area = 'transit' and ${isOwnSide("i", "p")}
      where d.status in ('posted', 'sent', 'cleared') and exists (
        select 1 from allocation a join allocation_line l on l.allocation_id = a.id
        where a.journal_id = any(${arrayOf(journals)}::bigint[]) and l.item_id in (
          select o.id from open_item o where o.journal_id = k.to_id and o.area = 'transit' and ${isOwnSide("o", "p")}))
      group by p.document_id`,
  );
  for (const status of ["cleared", "sent", "posted"] as const)
    await setStatus(
      tx,
      touched
        .filter((t) => status === (t.cleared ? "cleared" : t.sent ? "sent" : "posted"))
        .map((t) => Number(t.id)),
      status,
    );
}
