import { sql } from "drizzle-orm";
import { string } from "yup";
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
  ok,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
  isCurrency,
} from "@/core/shared";
import { writtenAccountProblem } from "@/core/ledger";
import { arrayOf, rows } from "../db";
import { type Context } from "../access";
import { keepOne, type About, type KeptKind, type KeptStore, type Saved } from "../keptDocuments";
import { partnersByCode } from "../partners";
import { documentLinks, giveNumber, takeNumber } from "../documents";
import { ruleFor, showProblem, whyOf, type ShownProblem } from "../ledger";
import { loadYears } from "../organisation";
import { readTaxCodes } from "../taxes";
import { readItems } from "../trade";

export type OrderKind = "request" | "order";

const KINDS = ["order", "request"] as const;

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
    items: new Map((await readItems(tx, "bought")).map((i) => [i.code, i])),
    taxCodes: new Map(
      (await readTaxCodes(tx, "purchase")).filter((t) => !t.blocked).map((t) => [t.code, t]),
    ),
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
export const toApprove = (input: OrderInput, r: OrderReading) => ({
  type: "purchase",
  company: input.company,
  date: r.date,
  currency: r.currency,
  lines: r.lines.map((l) => ({ account: l.account, side: "debit" as const, amount: l.net })),
});

export async function checkOf(
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

/** How requests and orders are kept. */
export const ORDERS: KeptStore<OrderInput, OrderReading> = {
  kinds: KINDS,
  table: "purchase_order",
  register: async ({ tx, masters }, papers) => {
    const partners = await partnersByCode(
      tx,
      papers.map((p) => p.content.supplier),
    );
    return papers.map(({ kind, content, prepared: reading }) => {
      const company = masters.companyByCode.get(content.company)!;
      const partner = partners.get(content.supplier.trim());
      const currency = isCurrency(reading.currency) ? reading.currency : company.currency;
      const whom = partner?.name || content.supplier || WITHOUT_SUPPLIER[kind ?? "order"];
      const what = content.description.trim() || reading.lines[0]?.description || "no lines yet";
      return {
        companyId: company.id,
        date: reading.date || null,
        amount: reading.net,
        currency,
        title: `${whom}, ${what}`,
        words: decimalText(reading.net, currency),
        partnerId: partner?.id ?? null,
        due: firstDelivery(reading),
      };
    });
  },
  columns: (_papers, entries) => ({
    partner_id: { type: "int", values: entries.map((e) => e.partnerId ?? null) },
  }),
};

const WITHOUT_SUPPLIER: Record<string, string> = { request: "Request", order: "Supplier" };

/** When the first of it is to come. */
const firstDelivery = ({ lines }: OrderReading): CalendarDate | null =>
  lines
    .flatMap((l) => l.deliveries.map((d) => d.date))
    .sort()
    .at(0) ?? null;

export type SavedOrder = Saved<OrderCheck>;

/**
 * Puts an order in force: it has a number and lines that can be received and invoiced. A request
 * becomes an order to be completed.
 */
export async function place(
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
  await giveNumber(tx, id, orderNumber, kind === "request" ? "posted" : "open");
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
  const order = await keepOne(ORDERS, context, {
    kind: "order",
    content: orderContent,
    prepared: again.value,
  });
  await documentLinks(tx, "ordered", [[id, order.id]]);
  return ok({ id, number: orderNumber, next: order.id });
}

/** Gives lines that have none a number after the highest used; numbers stay. */
export function numberLines(
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

export async function storeLines(
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

export type Placed = { id: number; number: string; next: number | null; note?: string };

export const KIND: KeptKind<OrderInput, Stored, OrderReading, OrderCheck, Placed> = {
  ...ORDERS,
  one: "order",
  many: "orders",
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
    return ok(rule ? { role: rule.role, why: whyOf(rule) } : null);
  },
  check: checkOf,
  post: async (context, content, { id, stored, justKept }) => {
    const { kind } = stored;
    const reading = await readPaperOrder(context, kind, content);
    if (!reading.ok) return reading;
    if (!justKept) await keepOne(ORDERS, context, { id, kind, content, prepared: reading.value });
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
