import { sql } from "drizzle-orm";
import type { Masters } from "@/core/ledger";
import type { CalendarDate, Minor } from "@/core/shared";
import { arrayOf } from "../db";
import type { Context } from "../access";

/** The control account of what was received and not invoiced: the first of that kind, by number. */
export const grniAccount = (masters: Masters): string | undefined =>
  masters.accounts
    .filter((a) => a.control === "GRNI" && !a.blocked)
    .sort((a, b) => (a.number < b.number ? -1 : 1))[0]?.number;

export interface EntryToStore {
  companyId: number;
  receiptLineId: number;
  kind: "received" | "returned" | "invoiced" | "cleaned" | "reopened";
  documentId: number;
  journalId: number;
  date: CalendarDate;
  seq: bigint;
  quantity: bigint;
  foreign: Minor;
  functional: Minor;
  account?: string;
  dimensions?: Readonly<Record<string, string>>;
  reason?: string;
}

/**
 * Notes what moves what is received and not invoiced. Each entry belongs to a journal that moves
 * the control account by the same amount.
 */
export async function storeEntries(
  { tx, person, now }: Context,
  entries: readonly EntryToStore[],
): Promise<void> {
  if (entries.length === 0) return;
  const column = <T extends string | number | bigint>(pick: (e: EntryToStore) => T) =>
    arrayOf(entries.map(pick));
  await tx.execute(sql`
    insert into grni_entry (company_id, receipt_line_id, kind, document_id, journal_id, date, seq,
      quantity, "foreign", functional, account, dimensions, reason, made_by, made_at)
    select x.*, ${person.id}, ${now.toISOString()}::timestamptz
      from unnest(${column((e) => e.companyId)}::int[], ${column((e) => e.receiptLineId)}::bigint[],
      ${column((e) => e.kind)}::text[], ${column((e) => e.documentId)}::bigint[],
      ${column((e) => e.journalId)}::bigint[], ${column((e) => e.date)}::date[],
      ${column((e) => e.seq)}::bigint[],
      ${column((e) => e.quantity)}::bigint[], ${column((e) => e.foreign)}::bigint[],
        ${column((e) => e.functional)}::bigint[], ${column((e) => e.account ?? "")}::text[],
        ${column((e) => JSON.stringify(e.dimensions ?? {}))}::jsonb[],
        ${column((e) => e.reason ?? "")}::text[]) as x`);
}

/** Takes back everything that a document has moved, by the journal that reverses it. */
export async function undoEntries(
  { tx, person, now }: Context,
  documentId: number,
  journal: { id: number; date: CalendarDate },
): Promise<void> {
  await tx.execute(sql`
    insert into grni_entry (company_id, receipt_line_id, kind, document_id, journal_id, date, seq,
      quantity, "foreign", functional, account, dimensions, reason, made_by, made_at)
    select e.company_id, e.receipt_line_id, e.kind, e.document_id, ${journal.id}, ${journal.date},
      (select seq from journal where id = ${journal.id}), -e.quantity, -e."foreign", -e.functional,
      e.account, e.dimensions, 'taken back', ${person.id}, ${now.toISOString()}
    from grni_entry e where e.document_id = ${documentId}`);
}
