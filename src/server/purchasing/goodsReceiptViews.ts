import { sql } from "drizzle-orm";
import { listSchema } from "@/core/lists";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { documentList, queryDocuments } from "../documents";
import { column, type RowOf } from "../lists";
import { defineUseCase } from "../access";
import { idSchema } from "./masters";

const GOODS_RECEIPT_LIST = documentList({
  kinds: ["goods-receipt"],
  joins: sql`left join lateral (select o.id, o.number from document_link l
    join document o on o.id = l.from_id where l.to_id = d.id and l.kind = 'received' limit 1) o
    on true left join partner p on p.id = d.partner_id`,
  columns: {
    number: column.text(sql`d.number`),
    status: column.state(sql`d.status`),
    date: column.day(sql`d.date`),
    supplier: column.text(sql`p.name`),
    title: column.text(sql`d.title`),
    order: column.text(sql`o.number`),
    currency: column.text(sql`d.currency`),
    amount: column.amount(sql`d.amount`),
  },
  sums: ["amount"],
  counts: sql`d.status = 'posted'`,
});
export type GoodsReceiptRow = RowOf<typeof GOODS_RECEIPT_LIST.columns>;

export const listGoodsReceipts = defineUseCase({
  name: "listGoodsReceipts",
  kind: "read",
  rights: ["read.payables"],
  what: "see goods receipts",
  company: (i) => i.company,
  schema: listSchema,
  run: (context, input) => queryDocuments(context, GOODS_RECEIPT_LIST, input),
});

export interface GoodsReceiptView {
  id: number;
  number: string;
  status: string;
  date: CalendarDate;
  title: string;
  currency: string;
  amount: Minor;
  order: { id: number; number: string };
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

export const getGoodsReceipt = defineUseCase({
  name: "getGoodsReceipt",
  kind: "read",
  rights: ["read.payables"],
  what: "see goods receipts",
  of: "checked",
  schema: idSchema,
  run: async (context, input): Promise<Result<GoodsReceiptView>> => {
    const [row] = await rows<
      Omit<GoodsReceiptView, "id" | "amount" | "lines" | "journals" | "mayCancel"> & {
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
            where d.id = ${input.id} and d.kind = 'goods-receipt'`,
    );
    if (!row) return fail({ code: "NOT_FOUND", what: "such receipt" });
    if (!context.may("read.payables", row.company))
      return fail({ code: "FORBIDDEN", what: `see goods receipts of ${row.company}` });
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
          from goods_receipt_line r join order_line l on l.id = r.order_line_id left
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
