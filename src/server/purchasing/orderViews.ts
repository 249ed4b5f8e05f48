import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { orderInput, type OrderInput } from "@/core/purchasing";
import { fail, isCalendarDate, minor, ok, type Minor, type Result, dayField } from "@/core/shared";
import { rows, likeText } from "../db";
import { defineUseCase } from "../access";
import { idSchema } from "./masters";
import {
  type OrderKind,
  type OrderCheck,
  readStoredOrder,
  readPaperOrder,
  checkOf,
} from "./orderKind";

export interface OrderRow {
  id: number;
  kind: OrderKind;
  number: string | null;
  status: string;
  date: string | null;
  supplier: string;
  supplierName: string;
  description: string;
  currency: string;
  net: Minor;
  /** Value at order price of what is still to come. */
  outstanding: Minor;
  wanted: string | null;
  by: string;
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}

export const listOrders = defineUseCase({
  name: "listOrders",
  kind: "read",
  rights: ["read.payables"],
  what: "see orders",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: dayField(),
    to: dayField(),
    text: string().trim().default("").max(100),
    status: string().default("all"),
  }),
  run: async ({ tx, masters }, input): Promise<Result<OrderRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<
      Omit<OrderRow, "id" | "net" | "outstanding"> & {
        id: bigint;
        net: bigint | null;
        outstanding: bigint | null;
      }
    >(
      tx,
      sql`select d.id, d.kind, d.number, d.status, d.date, coalesce(p.code, '') as supplier,
        coalesce(p.name, '') as "supplierName", o.content->>'description' as description,
        d.currency, d.amount as net, b.name as by, x.outstanding, x.wanted,
        count(*) over ()::int as "of"
          from purchase_order o join document d on d.id = o.document_id left
            join partner p on p.id = o.partner_id join person b on b.id = d.created_by
            left
              join lateral (select sum(case
              when l.quantity > l.received then round(l.net::numeric * (l.quantity - l.received) /
              l.quantity) else 0 end)::bigint as outstanding,
              min(case when l.quantity > l.received then (l.deliveries->0->>'date')::date end) as
              wanted from order_line l where l.order_id = d.id) x on true
          where d.company_id = ${company.id} ${
            input.status === "all"
              ? sql``
              : sql`and d.status =
            ${input.status}`
          } ${
            input.text === ""
              ? sql``
              : sql`and d.search like
            ${`%${likeText(input.text.toLowerCase())}%`}`
          }
            ${
              input.from && isCalendarDate(input.from)
                ? sql`and (d.date >= ${input.from}
              or d.status in ('draft', 'waiting',
              'open'))`
                : sql``
            } ${
              input.to && isCalendarDate(input.to)
                ? sql`and
              (d.date <= ${input.to} or d.status in ('draft', 'waiting'))`
                : sql``
            }
          order by (d.status in ('draft', 'waiting')) desc, d.date desc nulls first, d.id desc limit 1000`,
    );
    return ok(
      found.map((f) => ({
        ...f,
        id: Number(f.id),
        net: minor(f.net ?? 0n),
        outstanding: minor(f.status === "open" ? (f.outstanding ?? 0n) : 0n),
      })),
    );
  },
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
