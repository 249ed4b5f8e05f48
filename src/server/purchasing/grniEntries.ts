import { sql } from "drizzle-orm";
import type { Masters } from "@/core/ledger";
import type { CalendarDate, Minor } from "@/core/shared";
import { insertAll, schema } from "../db";
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
  await insertAll(
    tx,
    schema.grniEntry,
    entries.map((e) => ({
      companyId: e.companyId,
      receiptLineId: e.receiptLineId,
      kind: e.kind,
      documentId: e.documentId,
      journalId: e.journalId,
      date: e.date,
      seq: e.seq,
      quantity: e.quantity,
      foreign: e.foreign,
      functional: e.functional,
      account: e.account ?? "",
      dimensions: { ...e.dimensions },
      reason: e.reason ?? "",
      madeBy: person.id,
      madeAt: now,
    })),
  );
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
