import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { listSchema } from "@/core/lists";
import { type InvoiceInput } from "@/core/payables";
import { decodeJson, fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { documentList, linkedCorrections, queryDocuments, type DocumentName } from "../documents";
import { column, type RowOf } from "../lists";
import { owedElsewhere, type OwedElsewhere } from "../openItems";
import { defineUseCase } from "../access";
import type { PaperFigures } from "../trade";
import { checkOf, prepare, readStored, type InvoiceCheck } from "./checkInvoice";

const INVOICE_LIST = documentList({
  kinds: ["invoice"],
  joins: sql`join invoice i on i.document_id = d.id left join partner p on p.id = d.partner_id
    join person b on b.id = d.created_by`,
  columns: {
    number: column.maybeText(sql`d.number`),
    status: column.state(sql`d.status`),
    date: column.day(sql`d.date`),
    party: column.text(sql`concat_ws(' ', coalesce(p.code, i.content->>'supplier'), p.name)`),
    supplier: column.text(sql`coalesce(p.code, i.content->>'supplier')`),
    supplierName: column.text(sql`p.name`),
    supplierNumber: column.text(sql`i.content->>'number'`),
    kind: column.text(sql`d.type`),
    /** When the next of it is to be paid; of a draft, the last of it. */
    due: column.day(sql`case when d.number is null then d.due else (select min(o.due_date)
      from open_item o where o.document_id = d.id and o.left_amount <> 0) end`),
    currency: column.text(sql`d.currency`),
    amount: column.amount(sql`d.amount`),
    /** What is left of it to be paid, in its currency; null while it is not posted. */
    left: column.maybeAmount(sql`select -sum(o.left_amount) from open_item o
      where o.document_id = d.id`),
    /** What was posted of it, at the rates of its journal; null while it is not posted. */
    functional: column.functional(sql`select -sum(o.functional) from open_item o
      where o.document_id = d.id and o.journal_id = i.journal_id`),
    functionalCurrency: column.text(sql`select f.currency from company f
      where f.id = d.company_id`),
    period: column.text(sql`select concat_ws(' ', n.name, y.name) from journal j
      join period n on n.year_id = j.year_id and n.no = j.period_no
      join fiscal_year y on y.id = n.year_id where j.id = i.journal_id`),
    by: column.text(sql`b.name`),
  },
  sums: ["amount", "left"],
  counts: sql`d.status = 'posted'`,
});
export type InvoiceRow = RowOf<typeof INVOICE_LIST.columns>;

export const listInvoices = defineUseCase({
  name: "listInvoices",
  kind: "read",
  rights: ["read.payables"],
  what: "see invoices",
  company: (i) => i.company,
  schema: listSchema,
  run: (context, input) => queryDocuments(context, INVOICE_LIST, input),
});

export interface InvoiceView {
  id: number;
  number: string | null;
  status: string;
  company: string;
  supplierName: string;
  content: InvoiceInput;
  version: number;
  savedAt: string;
  figures: PaperFigures;
  /** What there is to say of it while it can still be changed or approved. */
  check: InvoiceCheck | null;
  corrects: DocumentName | null;
  correctedBy: DocumentName[];
  journals: { id: number; number: string; description: string; total: bigint }[];
  items: { id: number; due: string; amount: Minor; left: Minor }[];
  /** What of them is owed in other currencies by now; owed is positive. */
  elsewhere: OwedElsewhere[];
  mayChange: boolean;
  mayPost: boolean;
  /** Whether this person may let pass what it is held for. */
  mayRelease: boolean;
  mayCancel: boolean;
}

export const getInvoice = defineUseCase({
  name: "getInvoice",
  kind: "read",
  rights: ["read.payables"],
  what: "see invoices",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<InvoiceView>> => {
    const { tx, may } = context;
    const stored = await readStored(context, input.id, false);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
    if (!may("read.payables", stored.company))
      return fail({ code: "FORBIDDEN", what: `see invoices of ${stored.company}` });
    const { content } = stored;
    const open =
      stored.status === "draft" || stored.status === "waiting" || stored.status === "held";
    // What is posted stands as it was; the rest is computed as it would be posted today.
    let check: InvoiceCheck | null = null;
    if (open) {
      const ready = await prepare(context, content, input.id);
      if (!ready.ok) return ready;
      check = await checkOf(context, content, ready.value);
    }
    const journals = await rows<{ id: bigint; number: string; description: string; total: bigint }>(
      tx,
      sql`select j.id, j.number, j.description, j.total from document_link l
        join journal j on j.id = l.to_id where l.from_id = ${input.id} and l.kind = 'made'
        order by j.id`,
    );
    const items = await rows<{ id: bigint; due: string; amount: bigint; left: bigint }>(
      tx,
      sql`select id, due_date as due, amount, left_amount as "left" from open_item
        where document_id = ${input.id} and journal_id = ${stored.journalId ?? 0}
        order by due_date, id`,
    );
    return ok({
      ...(await linkedCorrections(context, input.id)),
      id: input.id,
      number: stored.number,
      status: stored.status,
      company: stored.company,
      supplierName: stored.supplierName,
      content,
      version: stored.version,
      savedAt: stored.updatedAt,
      figures: check ?? decodeJson<PaperFigures>(stored.figures!),
      check,
      journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      items: items.map((i) => ({
        ...i,
        id: Number(i.id),
        amount: minor(-i.amount),
        left: minor(-i.left),
      })),
      elsewhere: (await owedElsewhere(tx, input.id)).map(({ currency, left }) => ({
        currency,
        left: minor(-left),
      })),
      mayChange: open && may("prepare.payables", stored.company),
      mayPost: open && may("post.payables", stored.company),
      mayRelease:
        stored.status === "held" &&
        stored.createdBy !== context.person.id &&
        may("post.payables", stored.company),
      mayCancel: stored.status === "posted" && may("reverse.payables", stored.company),
    });
  },
});
