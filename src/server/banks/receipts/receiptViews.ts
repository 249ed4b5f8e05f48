import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { listSchema } from "@/core/lists";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { likeText, rows } from "../../db";
import { documentList, queryDocuments } from "../../documents";
import { column, type RowOf } from "../../lists";

const READ = ["read.receivables", "read.banks", "read.ledger"] as const;

const RECEIPTS = documentList({
  kinds: ["receipt"],
  joins: sql`join receipt p on p.document_id = d.id
    join bank_account b on b.id = p.bank_account_id`,
  columns: {
    number: column.text(sql`d.number`),
    status: column.state(sql`d.status`),
    date: column.day(sql`d.date`),
    party: column.text(sql`concat_ws(' ', p.partner, p.payer)`),
    partner: column.text(sql`p.partner`),
    payer: column.text(sql`p.payer`),
    bank: column.text(sql`b.code`),
    pays: column.text(sql`(select string_agg(i.reference, ', ' order by i.due_date, i.id)
      from receipt_item t join open_item i on i.id = t.item_id where t.receipt_id = d.id)`),
    currency: column.text(sql`d.currency`),
    discount: column.amount(sql`p.discount`),
    amount: column.amount(sql`d.amount`),
  },
  sums: ["discount", "amount"],
  counts: sql`d.status in ('posted', 'sent', 'cleared')`,
  alsoFound: (text) => sql`p.partner ilike ${`%${likeText(text)}%`}`,
});
export type ReceiptRow = RowOf<typeof RECEIPTS.columns>;

/** The register of receipts. */
export const listReceipts = defineUseCase({
  name: "listReceipts",
  kind: "read",
  rights: READ,
  what: "see receipts",
  company: (i) => i.company,
  schema: listSchema,
  run: (context, input) => queryDocuments(context, RECEIPTS, input),
});

export interface ReceiptView {
  id: number;
  number: string;
  status: string;
  company: string;
  date: CalendarDate;
  bank: string;
  partner: string;
  payer: string;
  /** Whether it is a customer: a supplier who pays back has a receipt too. */
  customer: boolean;
  currency: string;
  amount: Minor;
  discount: Minor;
  items: {
    id: number;
    reference: string;
    document: { id: number; kind: string };
    taken: Minor;
    discount: Minor;
  }[];
  journals: { id: number; number: string; reverses: boolean }[];
  /**
   * The line of the bank's statement; null while the bank has not had it, or once its run is
   * reversed.
   */
  line: { id: number; statement: string } | null;
  /** Whether it was recorded before the bank had it. */
  underWay: boolean;
  /** By which mandate the customer was debited for it, in which run; why it was undone. */
  debit: { mandate: string; run: number; reason: string } | null;
}

/** A receipt with what it settles and the bank's line that it is. */
export const getReceipt = defineUseCase({
  name: "getReceipt",
  kind: "read",
  rights: READ,
  what: "see receipts",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async ({ tx, may }, input): Promise<Result<ReceiptView>> => {
    const [head] = await rows<
      Omit<ReceiptView, "id" | "amount" | "discount" | "items" | "journals" | "line"> & {
        id: bigint;
        amount: bigint;
        discount: bigint;
        journalId: bigint;
      }
    >(
      tx,
      sql`select d.id, d.number, d.status, c.code as company, d.date, b.code as bank, p.partner,
          p.payer, coalesce((select q.customer from partner q where q.code = p.partner), false) as customer,
          d.currency, d.amount, p.discount, p.journal_id as "journalId", exists (select 1
            from open_item i where i.journal_id = p.journal_id and i.area = 'transit') as "underWay",
          (select json_build_object('mandate', m.reference, 'run', x.run_id, 'reason', x.reason)
            from direct_debit x join mandate m on m.id = x.mandate_id where x.receipt_id = d.id)
            as debit
        from receipt p join document d on d.id = p.document_id
          join company c on c.id = d.company_id join bank_account b on b.id = p.bank_account_id
        where d.id = ${input.id}::bigint`,
    );
    if (!head) return fail({ code: "NOT_FOUND", what: "such receipt" });
    if (!READ.some((r) => may(r, head.company)))
      return fail({ code: "FORBIDDEN", what: `see receipts of ${head.company}` });
    const { journalId, ...receipt } = head;
    const items = await rows<{
      id: bigint;
      reference: string;
      documentId: bigint;
      kind: string;
      taken: bigint;
      discount: bigint;
    }>(
      tx,
      sql`select i.id, i.reference, i.document_id as "documentId", d.kind, t.taken, t.discount
        from receipt_item t join open_item i on i.id = t.item_id
          join document d on d.id = i.document_id
        where t.receipt_id = ${input.id}::bigint order by i.due_date, i.id`,
    );
    const journals = await rows<{ id: bigint; number: string; reverses: boolean }>(
      tx,
      sql`select id, number, reverses_id is not null as reverses from journal
        where id = ${journalId} or reverses_id = ${journalId} order by id`,
    );
    const [line] = await rows<{ id: bigint; statement: string }>(
      tx,
      sql`select l.id, s.number as statement from statement_line l
        join bank_statement s on s.id = l.statement_id where l.state = 'posted'
          and (l.journal_id = ${journalId} or l.journal_id in (select k.to_id from document_link k
            where k.from_id = ${input.id}::bigint and k.kind = 'cleared'))`,
    );
    return ok({
      ...receipt,
      id: Number(receipt.id),
      amount: minor(receipt.amount),
      discount: minor(receipt.discount),
      items: items.map((i) => ({
        id: Number(i.id),
        reference: i.reference,
        document: { id: Number(i.documentId), kind: i.kind },
        taken: minor(i.taken),
        discount: minor(i.discount),
      })),
      journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      line: line ? { id: Number(line.id), statement: line.statement } : null,
    });
  },
});
