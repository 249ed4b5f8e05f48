import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { listSchema } from "@/core/lists";
import { saleInput, type SaleInput } from "@/core/receivables";
import { decodeJson, fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows } from "../db";
import { documentList, linkedCorrections, queryDocuments, type DocumentName } from "../documents";
import { column, type RowOf } from "../lists";
import { owedElsewhere, type OwedElsewhere } from "../openItems";
import {
  checkOf,
  prepareSale,
  readStoredSale,
  type SaleCheck,
  type SaleFigures,
} from "./checkSale";

const SALE_LIST = documentList({
  kinds: ["sale"],
  joins: sql`join sale s on s.document_id = d.id left join partner p on p.id = d.partner_id
    join person b on b.id = d.created_by`,
  columns: {
    number: column.maybeText(sql`d.number`),
    status: column.state(sql`d.status`),
    date: column.day(sql`d.date`),
    party: column.text(sql`concat_ws(' ', coalesce(p.code, s.content->>'customer'), p.name)`),
    customer: column.text(sql`coalesce(p.code, s.content->>'customer')`),
    customerName: column.text(sql`p.name`),
    reference: column.text(sql`s.content->>'reference'`),
    kind: column.text(sql`d.type`),
    /** When the next of it falls due; of a draft, the last of it. */
    due: column.day(sql`case when d.number is null then d.due else (select min(o.due_date)
      from open_item o where o.document_id = d.id and o.left_amount <> 0) end`),
    currency: column.text(sql`d.currency`),
    amount: column.amount(sql`d.amount`),
    /** What is left of it to be paid, in its currency; null while it is not posted. */
    left: column.maybeAmount(sql`select sum(o.left_amount) from open_item o
      where o.document_id = d.id`),
    /** What was posted of it, at the rates of its journal; null while it is not posted. */
    functional: column.functional(sql`select sum(o.functional) from open_item o
      where o.document_id = d.id and o.journal_id = s.journal_id`),
    functionalCurrency: column.text(sql`select f.currency from company f
      where f.id = d.company_id`),
    sent: column.day(sql`s.sent_at::date`),
    by: column.text(sql`b.name`),
  },
  sums: ["amount", "left"],
  counts: sql`d.status = 'posted'`,
});
export type SaleRow = RowOf<typeof SALE_LIST.columns>;

export const listSales = defineUseCase({
  name: "listSales",
  kind: "read",
  rights: ["read.receivables"],
  what: "see sales invoices",
  company: (i) => i.company,
  schema: listSchema,
  run: (context, input) => queryDocuments(context, SALE_LIST, input),
});

export interface SaleView {
  id: number;
  number: string | null;
  status: string;
  company: string;
  customerName: string;
  content: SaleInput;
  version: number;
  savedAt: string;
  sentAt: string | null;
  figures: SaleFigures;
  /** What there is to say of it while it can still be changed or approved. */
  check: SaleCheck | null;
  corrects: DocumentName | null;
  correctedBy: DocumentName[];
  journals: { id: number; number: string; description: string; total: bigint }[];
  items: { id: number; due: string; amount: Minor; left: Minor }[];
  /** What of them is owed in other currencies by now; owed is positive. */
  elsewhere: OwedElsewhere[];
  mayChange: boolean;
  mayPost: boolean;
  mayCancel: boolean;
}

export const getSale = defineUseCase({
  name: "getSale",
  kind: "read",
  rights: ["read.receivables"],
  what: "see sales invoices",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, { id }): Promise<Result<SaleView>> => {
    const { tx, may } = context;
    const stored = await readStoredSale(context, id, false);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
    const { company, status, content } = stored;
    if (!may("read.receivables", company))
      return fail({ code: "FORBIDDEN", what: `see sales invoices of ${company}` });
    const open = status === "draft" || status === "waiting";
    // What is posted stands as it was; the rest is computed as it would be posted today.
    let check: SaleCheck | null = null;
    if (open) {
      const ready = await prepareSale(context, content, id);
      if (!ready.ok) return ready;
      check = await checkOf(context, content, ready.value);
    }
    const journals = await rows<{ id: bigint; number: string; description: string; total: bigint }>(
      tx,
      sql`select j.id, j.number, j.description, j.total from document_link l
        join journal j on j.id = l.to_id where l.from_id = ${id} and l.kind = 'made'
        order by j.id`,
    );
    const items = await rows<{ id: bigint; due: string; amount: bigint; left: bigint }>(
      tx,
      sql`select id, due_date as due, amount, left_amount as "left" from open_item
        where document_id = ${id} and journal_id = ${stored.journalId ?? 0}
        order by due_date, id`,
    );
    return ok({
      ...(await linkedCorrections(context, id)),
      id,
      number: stored.number,
      status,
      company,
      customerName: stored.customerName,
      content,
      version: stored.version,
      savedAt: stored.updatedAt,
      sentAt: stored.sentAt,
      figures: check ?? decodeJson<SaleFigures>(stored.figures!),
      check,
      journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      items: items.map((i) => ({
        ...i,
        id: Number(i.id),
        amount: minor(i.amount),
        left: minor(i.left),
      })),
      elsewhere: await owedElsewhere(tx, id),
      mayChange: open && may("prepare.receivables", company),
      mayPost: open && may("post.receivables", company),
      mayCancel: status === "posted" && !stored.sentAt && may("reverse.receivables", company),
    });
  },
});

/** A posted invoice that a credit note may correct, with the lines that it was posted with. */
export interface CorrectableSale extends DocumentName {
  date: string;
  lines: SaleInput["lines"];
  /** Whether it asked for a prepayment. */
  prepayment: boolean;
}
const MOST = 100;

/** The newest posted invoices to a customer, for a credit note to name. */
export const correctableSales = defineUseCase({
  name: "correctableSales",
  kind: "read",
  rights: ["prepare.receivables"],
  what: "prepare sales invoices",
  company: (i) => i.company,
  schema: object({ company: string().required(), customer: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<CorrectableSale[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<DocumentName & { date: string; content: SaleInput }>(
      tx,
      sql`select d.id::int as id, d.number, d.date, s.content from sale s
        join document d on d.id = s.document_id join partner p on p.id = s.partner_id
        where d.company_id = ${company.id} and p.code = ${input.customer} and d.type = 'invoice'
          and d.status = 'posted' order by d.date desc, d.id desc limit ${MOST}`,
    );
    return ok(
      found.map(({ content, ...f }) => {
        const { lines, prepayment } = saleInput(content);
        return { ...f, lines, prepayment };
      }),
    );
  },
});
