import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { invoiceInput, type InvoiceInput } from "@/core/payables";
import {
  decodeJson,
  fail,
  isCalendarDate,
  minor,
  ok,
  type Minor,
  type Result,
  dayField,
} from "@/core/shared";
import { linkedCorrections, type DocumentName } from "./corrections";
import { rows } from "../db";
import { defineUseCase } from "../access";
import {
  checkOf,
  prepare,
  readStored,
  type InvoiceCheck,
  type InvoiceFigures,
} from "./checkInvoice";

export interface InvoiceRow {
  id: number;
  number: string | null;
  supplier: string;
  supplierName: string;
  supplierNumber: string;
  kind: string;
  date: string | null;
  amount: Minor;
  currency: string;
  status: string;
  by: string;
  /** What is left of it to be paid, in its currency; null while it is not posted. */
  left: Minor | null;
  due: string | null;
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}

export const listInvoices = defineUseCase({
  name: "listInvoices",
  kind: "read",
  rights: ["read.payables"],
  what: "see invoices",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: dayField(),
    to: dayField(),
    status: string()
      .oneOf(["draft", "waiting", "held", "posted", "reversed", "all"] as const)
      .default("all"),
    text: string().max(200),
  }),
  run: async ({ tx, masters }, input): Promise<Result<InvoiceRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<
      Omit<InvoiceRow, "id" | "amount" | "left"> & {
        id: bigint;
        amount: bigint | null;
        left: bigint | null;
      }
    >(
      tx,
      sql`select d.id, d.number, coalesce(p.code, i.content->>'supplier') as supplier,
        coalesce(p.name, '') as "supplierName", i.content->>'number' as "supplierNumber",
        d.type as kind, d.date, d.amount, d.currency, d.status, b.name as by,
            (select -sum(o.left_amount)::bigint from open_item o
              where o.document_id = d.id) as "left",
            count(*) over ()::int as "of", (select min(o.due_date) from open_item o
              where o.document_id = d.id and o.left_amount <> 0) as due
          from document d join invoice i on i.document_id = d.id left
            join partner p on p.id = i.partner_id join person b on b.id = d.created_by
          where d.kind = 'invoice'
            and d.company_id = ${company.id} ${
              input.status === "all"
                ? sql``
                : sql`and d.status =
            ${input.status}`
            } ${
              input.text?.trim()
                ? sql`and d.search like ${`%${input.text
                    .trim()
                    .toLowerCase()
                    .replace(/[%_\\]/g, "\\$&")}%`}`
                : sql``
            }
            ${
              input.from && isCalendarDate(input.from)
                ? sql`and (d.date >= ${input.from}
              or d.status in ('draft', 'waiting',
              'held'))`
                : sql``
            } ${
              input.to && isCalendarDate(input.to)
                ? sql`and
              (d.date <= ${input.to} or d.status in ('draft', 'waiting', 'held'))`
                : sql``
            }
          order by (d.status in ('draft', 'waiting', 'held')) desc, d.date desc nulls first,
            d.id desc limit 1000`,
    );
    return ok(
      found.map((f) => ({
        ...f,
        id: Number(f.id),
        amount: minor(f.amount ?? 0n),
        left: f.left === null ? null : minor(f.left),
      })),
    );
  },
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
  figures: InvoiceFigures;
  /** What there is to say of it while it can still be changed or approved. */
  check: InvoiceCheck | null;
  corrects: DocumentName | null;
  correctedBy: DocumentName[];
  journals: { id: number; number: string; description: string; total: bigint }[];
  items: { id: number; due: string; amount: Minor; left: Minor }[];
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
    const content = invoiceInput(stored.content);
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
      figures: check ?? decodeJson<InvoiceFigures>(stored.figures!),
      check,
      journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      items: items.map((i) => ({
        ...i,
        id: Number(i.id),
        amount: minor(-i.amount),
        left: minor(-i.left),
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
