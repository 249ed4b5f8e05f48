import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
  dayField,
} from "@/core/shared";
import { rows, likeText } from "../db";
import { defineUseCase } from "../access";
import { idSchema } from "./masters";

export interface ReceiptRow {
  id: number;
  number: string;
  status: string;
  date: CalendarDate;
  title: string;
  currency: string;
  amount: Minor;
  order: { id: number; number: string };
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}

export const listReceipts = defineUseCase({
  name: "listReceipts",
  kind: "read",
  rights: ["read.payables"],
  what: "see receipts",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: dayField(),
    to: dayField(),
    text: string().trim().default("").max(100),
  }),
  run: async ({ tx, masters }, input): Promise<Result<ReceiptRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<ReceiptRow, "id" | "amount"> & { id: bigint; amount: bigint }>(
      tx,
      sql`select d.id, d.number, d.status, d.date, d.title, d.currency, d.amount,
        count(*) over ()::int as "of", (select jsonb_build_object('id', o.id, 'number', o.number) from document_link l
        join document o on o.id = l.from_id where l.to_id = d.id and l.kind = 'received'
        limit 1) as order
          from document d
            where d.kind = 'receipt'
            and d.company_id = ${company.id} ${
              input.from && isCalendarDate(input.from)
                ? sql`and
            d.date >= ${input.from}`
                : sql``
            } ${
              input.to && isCalendarDate(input.to)
                ? sql`and
            d.date <= ${input.to}`
                : sql``
            } ${
              input.text === ""
                ? sql``
                : sql`and d.search like
            ${`%${likeText(input.text.toLowerCase())}%`}`
            } order by d.date desc, d.id desc limit 1000`,
    );
    return ok(found.map((f) => ({ ...f, id: Number(f.id), amount: minor(f.amount) })));
  },
});

export interface ReceiptView extends Omit<ReceiptRow, "of"> {
  company: string;
  lines: {
    no: number;
    description: string;
    quantity: bigint;
    unit: string;
    left: bigint;
    value: Minor;
    leftover: Minor;
  }[];
  journals: { id: number; number: string }[];
  mayCancel: boolean;
}

export const getReceipt = defineUseCase({
  name: "getReceipt",
  kind: "read",
  rights: ["read.payables"],
  what: "see receipts",
  of: "checked",
  schema: idSchema,
  run: async (context, input): Promise<Result<ReceiptView>> => {
    const [row] = await rows<
      Omit<ReceiptView, "id" | "amount" | "lines" | "journals" | "mayCancel"> & {
        id: bigint;
        amount: bigint;
      }
    >(
      context.tx,
      sql`select d.id, d.number, d.status, d.date, d.title, d.currency, d.amount, c.code as company,
        (select jsonb_build_object('id', o.id, 'number', o.number) from document_link l
        join document o on o.id = l.from_id where l.to_id = d.id and l.kind = 'received'
        limit 1) as order
          from document d join company c on c.id = d.company_id
            where d.id = ${input.id} and d.kind = 'receipt'`,
    );
    if (!row) return fail({ code: "NOT_FOUND", what: "such receipt" });
    if (!context.may("read.payables", row.company))
      return fail({ code: "FORBIDDEN", what: `see receipts of ${row.company}` });
    const lines = await rows<{
      no: number;
      description: string;
      quantity: bigint;
      unit: string;
      left: bigint;
      value: bigint;
      leftover: bigint;
    }>(
      context.tx,
      sql`select l.no, l.description, r.quantity, l.unit, coalesce(sum(e.quantity),
        0)::bigint as "left", coalesce(sum(e.functional) filter (where e.document_id = ${input.id}),
        0)::bigint as value, coalesce(sum(e.functional), 0)::bigint as leftover
          from receipt_line r join order_line l on l.id = r.order_line_id left
            join grni_entry e on e.receipt_line_id = r.id where r.receipt_id = ${input.id}
            group by r.id, l.no, l.description, r.quantity, l.unit order by l.no`,
    );
    const journals = await rows<{ id: bigint; number: string }>(
      context.tx,
      sql`select j.id, j.number from journal j
        where j.origin_id = ${input.id} or j.reverses_id in (select id from journal
        where origin_id = ${input.id}) order by j.id`,
    );
    return ok({
      ...row,
      id: Number(row.id),
      amount: minor(row.amount),
      lines: lines.map((l) => ({ ...l, value: minor(l.value), leftover: minor(l.leftover) })),
      journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      mayCancel: row.status === "posted" && context.may("reverse.payables", row.company),
    });
  },
});
