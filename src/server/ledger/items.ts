import { sql } from "drizzle-orm";
import { keepsItems, type PreparedJournal } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import { arrayOf, type Db, insertAll, rows, schema } from "../db";
import type { Context } from "../access/useCase";

/**
 * Whether what is to be reversed still stands as it was posted: an item that something was set
 * against is settled first to be undone.
 */
export async function checkReversible(
  tx: Db,
  journals: readonly PreparedJournal[],
): Promise<Result<unknown>> {
  const ids = journals.flatMap((j) => (j.reverses === null ? [] : [j.reverses]));
  if (ids.length === 0) return ok({});
  const settled = await rows<{ reference: string; by: string }>(
    tx,
    sql`select i.reference, coalesce((select j.number from allocation_line l
      join allocation a on a.id = l.allocation_id join allocation_line o on o.allocation_id = a.id
      and o.item_id <> i.id join open_item p on p.id = o.item_id
      join journal j on j.id = p.journal_id
            where l.item_id = i.id and a.undoes_id is null
              and not exists (select 1 from allocation u where u.undoes_id = a.id)
            order by a.id desc limit 1), 'an allocation') as by
        from open_item i where i.journal_id = any(${arrayOf(ids)}::bigint[])
          and i.left_amount <> i.amount order by i.id limit 5`,
  );
  return settled.length === 0
    ? ok({})
    : fail(
        ...(settled.map((s) => ({ code: "ITEM_ALLOCATED", ...s }) as const) as [
          { code: "ITEM_ALLOCATED"; reference: string; by: string },
        ]),
      );
}

/**
 * The open items of journals that are being stored: one for each line on a partner's control
 * account, so that what is left of all items is always the balance of the account.
 * A reversal settles the items of what it reverses with its own.
 */
export async function storeItems(
  { tx, person }: Context,
  journals: readonly PreparedJournal[],
  ids: readonly number[],
  numbers: readonly string[],
  seqs: readonly bigint[],
): Promise<void> {
  const items = journals.flatMap((journal, i) =>
    journal.lines
      .filter((line) => keepsItems(line.account) && line.added !== "difference")
      .map((line) => ({ journal, line, id: ids[i]!, number: numbers[i]!, seq: seqs[i]! })),
  );
  const signed = (side: string, amount: bigint): bigint => (side === "debit" ? amount : -amount);
  await insertAll(
    tx,
    schema.openItem,
    items.map(({ journal, line, id, number, seq }) => {
      const amount = signed(line.side, line.foreignAmount);
      const functional = signed(line.side, line.amount);
      return {
        companyId: journal.company.id,
        area: line.account.control!,
        accountId: line.account.id,
        partner: line.partner ?? "",
        kind: line.item?.kind ?? "journal",
        documentId: journal.origin ?? id,
        journalId: id,
        lineNo: line.lineNo,
        seq,
        reference: line.item?.reference || journal.reference || number,
        date: journal.date,
        dueDate: line.dueDate ?? journal.date,
        currency: line.currency,
        amount,
        functional,
        discounts: (line.item?.discounts ?? []).map((d) => ({ ...d, amount: String(d.amount) })),
        leftAmount: amount,
        leftFunctional: functional,
      };
    }),
  );
  const reversing = [...new Set(items.filter((i) => i.journal.reverses !== null).map((i) => i.id))];
  if (reversing.length === 0) return;
  const made = await rows<{ id: bigint }>(
    tx,
    sql`insert into allocation (company_id, kind, date, seq, journal_id, made_by, made_at)
      select company_id, 'reversal', date, seq, id, ${person.id}, posted_at from journal
      where id = any(${arrayOf(reversing)}::bigint[]) returning id`,
  );
  await tx.execute(sql`
    insert into allocation_line (allocation_id, item_id, amount, functional)
    select a.id, i.id, i.left_amount, i.left_functional from allocation a
      join journal j on j.id = a.journal_id join open_item i on i.journal_id in (j.id,
      j.reverses_id) and (i.left_amount <> 0 or i.left_functional <> 0)
      where a.id = any(${arrayOf(made.map((m) => m.id))}::bigint[])`);
  await tx.execute(
    sql`update open_item i set left_amount = 0, left_functional = 0 from allocation_line l
      where l.item_id = i.id
      and l.allocation_id = any(${arrayOf(made.map((m) => m.id))}::bigint[])`,
  );
}
