import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  orderInput,
  orderSchema,
  readOrder,
  type OrderInput,
  type OrderLine,
  type OrderReading,
} from "@/core/purchasing";
import {
  decimalText,
  fail,
  isCalendarDate,
  minor,
  ok,
  type Found,
  type Minor,
  type Result,
  isCurrency,
  dayField,
} from "@/core/shared";
import { writtenAccountProblem } from "@/core/ledger";
import { arrayOf, rows, likeText } from "../db";
import { defineUseCase, type Context, companiesOf } from "../access";
import { defineKept, type About, type KeptKind, type Saved } from "../keptDocuments";
import { documentLinks, takeNumber } from "../documents";
import { ruleFor, showProblem, whyOf, type ShownProblem } from "../ledger";
import { loadYears } from "../organisation";
import { readTaxCodes } from "../taxes";
import { idSchema, readPurchaseItems } from "./masters";
import { tellReceipt } from "./receipts";

export type OrderKind = "request" | "order";
const KINDS = ["request", "order"] as const;

export interface OrderCheck {
  net: Minor;
  tax: Minor;
  currency: string;
  lines: { line: number; net: Minor }[];
  problems: ShownProblem[];
  approval: string | null;
}

interface Stored {
  kind: OrderKind;
  content: OrderInput;
  version: number;
  status: string;
  number: string | null;
  company: string;
  companyId: number;
  createdBy: number;
  updatedBy: number;
  updatedByName: string;
  updatedAt: string;
  supplierName: string;
  sentAt: string | null;
}

export async function readStoredOrder(
  { tx }: Context,
  id: number,
  lock = true,
): Promise<Stored | undefined> {
  const [row] = await rows<Stored>(
    tx,
    sql`select d.kind, o.content, o.version, d.status, d.number, c.code as company,
      c.id as "companyId", d.created_by as "createdBy", o.updated_by as "updatedBy",
      p.name as "updatedByName", o.updated_at as "updatedAt", o.sent_at as "sentAt",
      coalesce((select s.name from partner s where s.id = o.partner_id), '') as "supplierName"
        from purchase_order o join document d on d.id = o.document_id
          join company c on c.id = d.company_id join person p on p.id = o.updated_by
          where o.document_id = ${id} ${lock ? sql`for update of o` : sql``}`,
  );
  return row && { ...row, content: orderInput(row.content) };
}

/** Reads a request or order as written, with what stands against it. */
export async function readPaperOrder(
  context: Context,
  kind: OrderKind,
  input: OrderInput,
): Promise<Result<OrderReading>> {
  const { tx, masters, today } = context;
  const company = masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const [supplier = null] = await rows<{ code: string; name: string; blocked: boolean }>(
    tx,
    sql`select code, name, blocked from partner where supplier and code = ${input.supplier.trim()}`,
  );
  const reading = readOrder(input, {
    functional: company.currency,
    today,
    supplier,
    supplierNeeded: kind === "order",
    items: new Map((await readPurchaseItems(tx)).map((i) => [i.code, i])),
    taxCodes: new Map((await readTaxCodes(tx)).filter((t) => !t.blocked).map((t) => [t.code, t])),
  });
  const problems: Found[] = [];
  for (const l of reading.lines) {
    const account = l.account === "" ? undefined : masters.accountByNumber.get(l.account);
    const fault = writtenAccountProblem(masters, l.account, { line: l.line, field: "account" });
    if (fault) problems.push(fault);
    for (const [code, value] of Object.entries(l.dimensions)) {
      const dimension = masters.dimensionByCode.get(code);
      if (dimension && value.trim() !== "" && !masters.value(dimension.id, value.trim()))
        problems.push({
          code: "VALUE_UNKNOWN",
          dimension: dimension.name.toLowerCase(),
          value,
          line: l.line,
          field: code,
        });
    }
    for (const [dimensionId, rule] of Object.entries(account?.rules ?? {})) {
      const dimension = masters.dimensionById.get(Number(dimensionId));
      if (rule === "required" && dimension && !l.dimensions[dimension.code]?.trim())
        problems.push({
          code: "DIMENSION_REQUIRED",
          dimension: dimension.name.toLowerCase(),
          account: l.account,
          line: l.line,
          field: dimension.code,
        });
    }
  }
  return ok({ ...reading, problems: [...reading.problems, ...problems] });
}

/** What rules of approval are asked: the lines as they would be bought. */
const toApprove = (input: OrderInput, r: OrderReading) => ({
  type: "purchase",
  company: input.company,
  date: r.date,
  currency: r.currency,
  lines: r.lines.map((l) => ({ account: l.account, side: "debit" as const, amount: l.net })),
});

async function checkOf(
  context: Context,
  input: OrderInput,
  reading: OrderReading,
): Promise<OrderCheck> {
  const [rule] = isCalendarDate(reading.date)
    ? await ruleFor(context, [toApprove(input, reading)])
    : [];
  return {
    net: reading.net,
    tax: reading.tax,
    currency: reading.currency,
    lines: reading.lines.map((l) => ({ line: l.line, net: l.net })),
    problems: reading.problems.map(showProblem),
    approval: rule ? whyOf(rule) : null,
  };
}

async function keep(
  context: Context,
  kind: OrderKind,
  input: OrderInput,
  reading: OrderReading,
  id: number | undefined,
): Promise<{ id: number; version: number }> {
  const { tx, masters, person, now } = context;
  const company = masters.companyByCode.get(input.company)!;
  const [partner] = await rows<{ id: number; name: string }>(
    tx,
    sql`select id, name from partner where code = ${input.supplier.trim()}`,
  );
  const title =
    `${partner?.name || input.supplier || (kind === "request" ? "Request" : "Supplier")}, ${input.description.trim() || reading.lines[0]?.description || "no lines yet"}`.slice(
      0,
      200,
    );
  const currency = isCurrency(reading.currency) ? reading.currency : company.currency;
  const search = `${title} ${decimalText(reading.net, currency)}`.toLowerCase().slice(0, 500);
  const content = JSON.stringify(input);
  if (id === undefined) {
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into document (kind, company_id, date, amount, currency, title, search, created_by,
        created_at, status) values (${kind}, ${company.id}, ${reading.date || null}, ${reading.net},
        ${currency}, ${title}, ${search}, ${person.id}, ${now.toISOString()}, 'draft')
        returning id`,
    );
    await tx.execute(
      sql`insert into purchase_order (document_id, partner_id, content, updated_by, updated_at)
        values (${made!.id}, ${partner?.id ?? null}, ${content}::jsonb, ${person.id},
        ${now.toISOString()})`,
    );
    await context.audit({
      action: "drafted",
      kind,
      recordId: String(made!.id),
      label: title,
      companyId: company.id,
    });
    return { id: Number(made!.id), version: 1 };
  }
  await tx.execute(
    sql`update document set company_id = ${company.id}, date = ${reading.date || null},
      amount = ${reading.net}, currency = ${currency}, title = ${title},
      search = coalesce(lower(number) || ' ', '') || ${search} where id = ${id}`,
  );
  const [saved] = await rows<{ version: number }>(
    tx,
    sql`update purchase_order set partner_id = ${partner?.id ?? null}, content = ${content}::jsonb,
      version = version + 1, updated_by = ${person.id}, updated_at = ${now.toISOString()}
      where document_id = ${id} returning version`,
  );
  return { id, version: saved!.version };
}

export type SavedOrder = Saved<OrderCheck>;

/**
 * Puts an order in force: it has a number and lines that can be received and invoiced. A request
 * becomes an order to be completed.
 */
async function place(
  context: Context,
  id: number,
  kind: OrderKind,
  content: OrderInput,
  approved: boolean,
): Promise<Result<{ id: number; number: string; next: number | null }>> {
  const { tx, masters } = context;
  const reading = await readPaperOrder(context, kind, content);
  if (!reading.ok) return reading;
  const [first, ...others] = reading.value.problems;
  if (first) return fail(first, ...others);
  if (!approved) {
    const [rule] = await ruleFor(context, [toApprove(content, reading.value)]);
    if (rule) return fail({ code: "APPROVAL_NEEDED", why: whyOf(rule) });
  }
  const company = masters.companyByCode.get(content.company)!;
  const date = reading.value.date;
  const year = (await loadYears(tx, [company.id])).find((y) => y.start <= date && date <= y.end);
  if (!year) return fail({ code: "PERIOD_MISSING", date, company: company.name, field: "date" });
  const orderNumber = await takeNumber(tx, { series: kind, company, year });
  const numbered = numberLines(content, reading.value.lines, 0);
  await tx.execute(
    sql`update document set number = ${orderNumber},
      status = ${kind === "request" ? "posted" : "open"},
      search = lower(${orderNumber}) || ' ' || search where id = ${id}`,
  );
  await tx.execute(
    sql`update purchase_order set content = ${JSON.stringify(numbered.content)}::jsonb,
      figures =
      ${JSON.stringify({ net: String(reading.value.net), tax: String(reading.value.tax) })}::jsonb
      where document_id = ${id}`,
  );
  await context.audit({
    action: kind === "request" ? "approved" : "placed",
    kind,
    recordId: id,
    label: orderNumber,
    companyId: company.id,
  });
  if (kind === "order") {
    await storeLines(context, id, numbered.lines);
    return ok({ id, number: orderNumber, next: null });
  }
  // What was asked for is an order in draft from here on, to be given a supplier and placed.
  const orderContent = {
    ...numbered.content,
    lines: numbered.content.lines.map((l) => ({ ...l, no: "" })),
  };
  const again = await readPaperOrder(context, "order", orderContent);
  if (!again.ok) return again;
  const order = await keep(context, "order", orderContent, again.value, undefined);
  await documentLinks(tx, "ordered", [[id, order.id]]);
  return ok({ id, number: orderNumber, next: order.id });
}

/** Gives lines that have none a number after the highest used; numbers stay. */
function numberLines(
  content: OrderInput,
  lines: readonly OrderLine[],
  highest: number,
): { content: OrderInput; lines: (OrderLine & { no: number })[] } {
  let next = Math.max(highest, ...lines.map((l) => l.no ?? 0));
  const numbered = lines.map((l) => ({ ...l, no: l.no ?? ++next }));
  const noAt = new Map(numbered.map((l) => [l.line, l.no]));
  return {
    content: {
      ...content,
      lines: content.lines.map((l, i) => ({
        ...l,
        no: noAt.has(i + 1) ? String(noAt.get(i + 1)) : "",
      })),
    },
    lines: numbered,
  };
}

async function storeLines(
  { tx }: Context,
  id: number,
  lines: readonly (OrderLine & { no: number })[],
): Promise<void> {
  const column = <T extends string | number | bigint>(pick: (l: OrderLine & { no: number }) => T) =>
    arrayOf(lines.map(pick));
  await tx.execute(sql`
    insert into order_line (order_id, no, item, kind, item_group, account, dimensions, description,
      quantity, unit, price, net, burden, tax_code, deliveries)
    select ${id}, x.* from unnest(${column((l) => l.no)}::smallint[],
      ${column((l) => l.item)}::text[], ${column((l) => l.kind)}::text[],
      ${column((l) => l.group)}::text[], ${column((l) => l.account)}::text[],
      ${column((l) => JSON.stringify(l.dimensions))}::jsonb[],
      ${column((l) => l.description)}::text[], ${column((l) => l.quantity)}::bigint[],
      ${column((l) => l.unit)}::text[], ${column((l) => l.price)}::text[],
        ${column((l) => l.net)}::bigint[], ${column((l) => l.burden)}::bigint[],
        ${column((l) => l.taxCode)}::text[],
        ${column((l) => JSON.stringify(l.deliveries.map((d) => ({ date: d.date, quantity: String(d.quantity) }))))}::jsonb[])
        as x
    on conflict (order_id, no) do update set item = excluded.item, kind = excluded.kind,
      item_group = excluded.item_group, account = excluded.account,
      dimensions = excluded.dimensions, description = excluded.description,
      quantity = excluded.quantity, unit = excluded.unit, price = excluded.price,
      net = excluded.net, burden = excluded.burden, tax_code = excluded.tax_code,
      deliveries = excluded.deliveries`);
}

type Placed = { id: number; number: string; next: number | null; note?: string };

const KIND: KeptKind<OrderInput, Stored, OrderReading, OrderCheck, Placed> = {
  kinds: KINDS,
  one: "order",
  many: "orders",
  names: { save: "saveOrder", post: "placeOrder", submit: "submitOrder", remove: "deleteOrder" },
  rights: { prepare: "prepare.payables", post: "post.payables" },
  posting: "place orders",
  // An order commits; it posts nothing.
  reachesLedger: false,
  schema: orderSchema,
  more: { kind: string().oneOf(KINDS).default("order") },
  read: readStoredOrder,
  refuses: ({ status, number: given }) =>
    status === "draft" ? null : { code: "ALREADY_POSTED", number: given ?? "" },
  prepare: (context, content, about) => readPaperOrder(context, kindOf(about), content),
  problems: ({ problems }) => problems,
  rule: async (context, content, reading) => {
    const [rule] = await ruleFor(context, [toApprove(content, reading)]);
    return rule ? { role: rule.role, why: whyOf(rule) } : null;
  },
  keep: (context, content, reading, about) =>
    keep(context, kindOf(about), content, reading, about.id),
  check: checkOf,
  post: async (context, content, { id, stored }) => {
    const reading = await readPaperOrder(context, stored.kind, content);
    if (!reading.ok) return reading;
    await keep(context, stored.kind, content, reading.value, id);
    const placed = await place(context, id, stored.kind, content, false);
    return placed.ok && placed.value.next !== null
      ? ok({
          ...placed.value,
          note: `Approved as ${placed.value.number}; the order made of it waits as a draft.`,
        })
      : placed;
  },
  approve: async (context, id) => {
    const stored = await readStoredOrder(context, id);
    const placed = await place(context, id, stored!.kind, stored!.content, true);
    return placed.ok ? ok({ number: placed.value.number }) : placed;
  },
  label: (content) => content.description,
};

/** A new one is what it was begun as; a kept one stays what it is. */
const kindOf = ({ stored, input }: About<Stored>): OrderKind =>
  stored?.kind ?? (input.kind === "request" ? "request" : "order");

export const {
  save: saveOrder,
  post: placeOrder,
  submit: submitOrder,
  remove: deleteOrder,
  approve: approveOrder,
} = defineKept(KIND);

/** An order from a program: placed at once. One that can't be placed is not kept. */
export const createOrder = defineUseCase({
  name: "createOrder",
  kind: "write",
  rights: ["post.payables"],
  what: "place orders",
  company: (i) => i.company,
  schema: orderSchema,
  run: async (context, input): Promise<Result<Placed>> => {
    const content = input as OrderInput;
    const reading = await readPaperOrder(context, "order", content);
    if (!reading.ok) return reading;
    const kept = await keep(context, "order", content, reading.value, undefined);
    return place(context, kept.id, "order", content, false);
  },
});

/**
 * Changes an order in force. What it said before is kept; a line that was received or invoiced
 * can't fall below that, nor go.
 */
export const changeOrder = defineUseCase({
  name: "changeOrder",
  kind: "write",
  rights: ["post.payables"],
  what: "change orders",
  company: (i) => i.content.company,
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    version: number().integer().required(),
    content: orderSchema.required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<{ id: number; version: number }>> => {
    const { tx, person, now } = context;
    const stored = await readStoredOrder(context, input.id);
    if (!stored || stored.kind !== "order") return fail({ code: "NOT_FOUND", what: "such order" });
    if (stored.status !== "open")
      return fail({
        code: "IN_USE",
        what: `The order is ${stored.status}; only one in force is changed`,
      });
    if (stored.version !== input.version)
      return fail({ code: "STALE", by: stored.updatedByName, at: stored.updatedAt.slice(11, 16) });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const content = input.content as OrderInput;
    if (
      content.company !== stored.company ||
      content.supplier.trim() !== stored.content.supplier.trim() ||
      (content.currency ?? "") !== (stored.content.currency ?? "")
    )
      return fail({
        code: "IN_USE",
        what: "Company, supplier and currency of an order in force stay; close it and place another one",
      });
    const reading = await readPaperOrder(context, "order", content);
    if (!reading.ok) return reading;
    const there = await rows<{ no: number; received: bigint; invoiced: bigint; price: string }>(
      tx,
      sql`select no, received, invoiced, price from order_line where order_id = ${input.id} for update`,
    );
    const problems: Found[] = [...reading.value.problems];
    const numbered = numberLines(
      content,
      reading.value.lines,
      Math.max(0, ...there.map((t) => t.no)),
    );
    const [rule] = await ruleFor(context, [toApprove(content, reading.value)]);
    const old = await rows<{ net: string | null }>(
      tx,
      sql`select figures->>'net' as net from purchase_order where document_id = ${input.id}`,
    );
    if (
      rule &&
      reading.value.net > BigInt(old[0]?.net ?? "0") &&
      !person.grants.some((g) => g.role === rule.role)
    )
      problems.push({
        code: "INVALID",
        what: `It would come to more than was approved: ${whyOf(rule)}. Ask one to change it, or order the rest apart`,
      });
    for (const t of there) {
      const now = numbered.lines.find((l) => l.no === t.no);
      const least = t.received > t.invoiced ? t.received : t.invoiced;
      if (!now && least > 0n)
        problems.push({
          code: "IN_USE",
          what: `Line ${t.no} has been received or invoiced; it stays`,
        });
      else if (now && now.quantity < least)
        problems.push({
          code: "IN_USE",
          what: `Of line ${t.no}, ${decimalText(minor(least), "KWD")} have been received or invoiced; it cannot fall below that`,
          line: now.line,
          field: "quantity",
        });
      else if (now && t.received > 0n && now.price !== t.price)
        problems.push({
          code: "IN_USE",
          what: `Line ${t.no} has been received at ${t.price}; its price stays, order the rest on a line of its own`,
          line: now.line,
          field: "price",
        });
    }
    const [first, ...others] = problems;
    if (first) return fail(first, ...others);
    await tx.execute(
      sql`insert into order_version (document_id, version, content, net, by, at, reason)
        values (${input.id}, ${stored.version}, ${JSON.stringify(stored.content)}::jsonb,
        ${BigInt(old[0]?.net ?? "0")}, ${person.id}, ${now.toISOString()}, ${input.reason})`,
    );
    const kept = await keep(context, "order", numbered.content, reading.value, input.id);
    await tx.execute(
      sql`update purchase_order set figures =
        ${JSON.stringify({ net: String(reading.value.net), tax: String(reading.value.tax) })}::jsonb
        where document_id = ${input.id}`,
    );
    await tx.execute(
      sql`delete from order_line
        where order_id = ${input.id}
        and no <> all(${arrayOf(numbered.lines.map((l) => l.no))}::smallint[])`,
    );
    await storeLines(context, input.id, numbered.lines);
    await context.audit({
      action: "changed",
      kind: "order",
      recordId: input.id,
      label: stored.number ?? "",
      companyId: stored.companyId,
      before: stored.content,
      after: { reason: input.reason, content: numbered.content },
    });
    const told = await tellReceipt(context, input.id);
    if (!told.ok) return told;
    return ok({ id: input.id, version: kept.version });
  },
});

/** Closes an order: nothing more is expected of it, and it commits no more. Or opens it again. */
export const closeOrder = defineUseCase({
  name: "closeOrder",
  kind: "write",
  rights: ["post.payables"],
  what: "close orders",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    to: string()
      .oneOf(["closed", "open"] as const)
      .required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input) => {
    const stored = await readStoredOrder(context, input.id);
    if (!stored || stored.kind !== "order") return fail({ code: "NOT_FOUND", what: "such order" });
    if (!context.may("post.payables", stored.company))
      return fail({ code: "FORBIDDEN", what: `close orders of ${stored.company}` });
    if (stored.status !== (input.to === "closed" ? "open" : "closed"))
      return fail({ code: "IN_USE", what: `The order is ${stored.status}` });
    await context.tx.execute(sql`update document set status = ${input.to} where id = ${input.id}`);
    await context.audit({
      action: input.to === "closed" ? "closed" : "opened again",
      kind: "order",
      recordId: input.id,
      label: stored.number ?? "",
      companyId: stored.companyId,
      after: { reason: input.reason },
    });
    return ok({});
  },
});

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
