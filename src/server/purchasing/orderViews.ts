import { sql } from "drizzle-orm";
import { listSchema } from "@/core/lists";
import { orderInput, type OrderInput } from "@/core/purchasing";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { documentList, queryDocuments } from "../documents";
import { column, type RowOf } from "../lists";
import { defineUseCase } from "../access";
import { idSchema } from "./masters";
import {
  type OrderKind,
  type OrderCheck,
  readStoredOrder,
  readPaperOrder,
  checkOf,
} from "./orderKind";

/** Value at order price of what is still to come, and when the first of it is wanted. */
const TO_COME = sql`lateral (select sum(case when l.quantity > l.received
    then round(l.net::numeric * (l.quantity - l.received) / l.quantity) else 0 end)::bigint
    as outstanding,
  min(case when l.quantity > l.received then (l.deliveries->0->>'date')::date end) as wanted
  from order_line l where l.order_id = d.id)`;

const ORDER_LIST = documentList({
  kinds: ["order", "request"],
  joins: sql`join purchase_order o on o.document_id = d.id
    left join partner p on p.id = d.partner_id join person b on b.id = d.created_by
    left join ${TO_COME} x on true`,
  columns: {
    number: column.maybeText(sql`d.number`),
    kind: column.text<OrderKind>(sql`d.kind`),
    status: column.state(
      sql`d.status`,
      sql`case when d.kind = 'order' and d.status = 'open' then 'in-force'
        when d.kind = 'request' and d.status = 'posted' then 'approved' else d.status end`,
    ),
    date: column.day(sql`d.date`),
    party: column.text(sql`concat_ws(' ', p.code, p.name)`),
    supplier: column.text(sql`p.code`),
    supplierName: column.text(sql`p.name`),
    description: column.text(sql`o.content->>'description'`),
    wanted: column.day(sql`case when d.number is null then d.due else x.wanted end`),
    currency: column.text(sql`d.currency`),
    net: column.amount(sql`d.amount`),
    outstanding: column.amount(sql`case when d.status = 'open' then x.outstanding end`),
    by: column.text(sql`b.name`),
  },
  sums: ["net", "outstanding"],
  counts: sql`d.status in ('open', 'closed')`,
});
export type OrderRow = RowOf<typeof ORDER_LIST.columns>;

export const listOrders = defineUseCase({
  name: "listOrders",
  kind: "read",
  rights: ["read.payables"],
  what: "see orders",
  company: (i) => i.company,
  schema: listSchema,
  // What is in force is in sight from the day of the order on.
  run: (context, { from, ...input }) =>
    queryDocuments(
      context,
      ORDER_LIST,
      input,
      from ? [sql`(d.date >= ${from} or d.number is null or d.status = 'open')`] : [],
    ),
});

export interface OrderLineView {
  no: number;
  item: string;
  account: string;
  dimensions: Record<string, string>;
  description: string;
  quantity: bigint;
  unit: string;
  price: string;
  net: Minor;
  taxCode: string;
  received: bigint;
  invoiced: bigint;
  deliveries: { date: string; quantity: string }[];
}

export interface OrderView {
  id: number;
  kind: OrderKind;
  number: string | null;
  status: string;
  company: string;
  supplierName: string;
  content: OrderInput;
  version: number;
  savedAt: string;
  sentAt: string | null;
  check: OrderCheck;
  lines: OrderLineView[];
  receipts: { id: number; number: string; date: string; status: string }[];
  invoices: { id: number; number: string; status: string }[];
  versions: {
    version: number;
    at: string;
    by: string;
    reason: string;
    net: Minor;
    content: OrderInput;
  }[];
  mayChange: boolean;
  mayPlace: boolean;
}

export const getOrder = defineUseCase({
  name: "getOrder",
  kind: "read",
  rights: ["read.payables"],
  what: "see orders",
  of: "checked",
  schema: idSchema,
  run: async (context, input): Promise<Result<OrderView>> => {
    const { tx, may } = context;
    const stored = await readStoredOrder(context, input.id, false);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such order" });
    if (!may("read.payables", stored.company))
      return fail({ code: "FORBIDDEN", what: `see orders of ${stored.company}` });
    const reading = await readPaperOrder(context, stored.kind, stored.content);
    if (!reading.ok) return reading;
    const lines = await rows<Omit<OrderLineView, "net"> & { net: bigint }>(
      tx,
      sql`select no, item, account, dimensions, description, quantity, unit, price, net,
        tax_code as "taxCode", received, invoiced, deliveries from order_line
        where order_id = ${input.id} order by no`,
    );
    const receipts = await rows<{ id: bigint; number: string; date: string; status: string }>(
      tx,
      sql`select d.id, d.number, d.date, d.status from document_link l
        join document d on d.id = l.to_id where l.from_id = ${input.id} and l.kind = 'received'
        order by d.id`,
    );
    const invoices = await rows<{ id: bigint; number: string; status: string }>(
      tx,
      sql`select d.id, coalesce(d.number, d.title) as number, d.status from document_link l
        join document d on d.id = l.to_id where l.from_id = ${input.id} and l.kind = 'invoiced'
        order by d.id`,
    );
    const versions = await rows<{
      version: number;
      at: string;
      by: string;
      reason: string;
      net: bigint;
      content: OrderInput;
    }>(
      tx,
      sql`select v.version, v.at, p.name as by, v.reason, v.net, v.content from order_version v
        join person p on p.id = v.by where v.document_id = ${input.id} order by v.version desc`,
    );
    const open = stored.status === "draft";
    return ok({
      id: input.id,
      kind: stored.kind,
      number: stored.number,
      status: stored.status,
      company: stored.company,
      supplierName: stored.supplierName,
      content: stored.content,
      version: stored.version,
      savedAt: stored.updatedAt,
      sentAt: stored.sentAt,
      check: await checkOf(context, stored.content, reading.value),
      lines: lines.map((l) => ({ ...l, net: minor(l.net) })),
      receipts: receipts.map((r) => ({ ...r, id: Number(r.id) })),
      invoices: invoices.map((i) => ({ ...i, id: Number(i.id) })),
      versions: versions.map((v) => ({ ...v, net: minor(v.net), content: orderInput(v.content) })),
      mayChange: open && may("prepare.payables", stored.company),
      mayPlace: may("post.payables", stored.company),
    });
  },
});
