import { sql } from "drizzle-orm";
import type { LineMatch, OrderedLine, ReceiptLot } from "@/core/payables";
import { object, string } from "yup";
import {
  exponentOf,
  fail,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, insertAll, rows, schema } from "../db";
import { defineUseCase, type Context } from "../access";
import { documentLinks } from "../documents";
import { storeEntries, undoEntries, type EntryToStore } from "./grniEntries";
import { readTolerances, toleranceFor } from "./masters";

interface LotRow {
  orderLineId: bigint;
  id: bigint;
  receipt: string;
  quantity: bigint;
  foreign: bigint;
  functional: bigint;
  cleaned: bigint;
  cleanedTo: { account: string; dimensions: Record<string, string> } | null;
}

/**
 * Lines of orders in force that an invoice can name: by their references, or all of a supplier that
 * still have something to be invoiced. Three queries, whatever their number.
 */
export async function orderedLines(
  { tx }: Context,
  companyId: number,
  of: { refs: readonly string[] } | { supplier: string },
): Promise<Map<string, OrderedLine>> {
  const wanted =
    "refs" in of
      ? sql`d.number || '/' || l.no = any(${arrayOf(of.refs)}::text[])`
      : sql`p.code = ${of.supplier} and d.status = 'open' and l.invoiced < l.quantity`;
  if ("refs" in of && of.refs.length === 0) return new Map();
  const lines = await rows<
    Omit<
      OrderedLine,
      "lots" | "priceTolerance" | "quantityTolerance" | "exponent" | "orderId" | "orderLine"
    > & { orderId: bigint; orderLine: bigint; group: string; kind: string; accrual: string }
  >(
    tx,
    sql`select d.number || '/' || l.no as ref, l.order_id as "orderId", l.id as "orderLine",
      p.code as supplier, d.currency, l.price, l.quantity, l.received, l.invoiced, l.account,
      l.dimensions, l.description, l.tax_code as "taxCode", l.item_group as "group", l.kind,
      d.status = 'closed' as closed,
      coalesce(o.content->>'accrual', 'receipt') as accrual,
          (coalesce(o.content->>'accrual', 'receipt') = 'period end' or (l.kind = 'service'
            and l.received = 0) or l.net + l.burden = 0) as "twoWay"
        from order_line l join document d on d.id = l.order_id
          join purchase_order o on o.document_id = l.order_id join partner p on p.id = o.partner_id
          where d.company_id = ${companyId} and d.status in ('open', 'closed') and ${wanted}
          order by d.number, l.no ${"refs" in of ? sql`` : sql`limit 5000`}`,
  );
  if (lines.length === 0) return new Map();
  const lots = await rows<LotRow>(
    tx,
    sql`select r.order_line_id as "orderLineId", r.id, d.number as receipt,
      sum(e.quantity)::bigint as quantity, sum(e."foreign") filter (where e.kind not in ('cleaned',
      'reopened'))::bigint as foreign, sum(e.functional) filter (where e.kind not in ('cleaned',
      'reopened'))::bigint as functional,
          coalesce(-sum(e.functional) filter (where e.kind in ('cleaned', 'reopened')), 0)::bigint as cleaned,
          (select jsonb_build_object('account', c.account, 'dimensions', c.dimensions)
            from grni_entry c where c.receipt_line_id = r.id and c.kind = 'cleaned'
            and c.functional <> 0 order by c.id desc limit 1) as "cleanedTo"
        from goods_receipt_line r join document d on d.id = r.receipt_id
          join grni_entry e on e.receipt_line_id = r.id
          where r.order_line_id = any(${arrayOf(lines.map((l) => l.orderLine))}::bigint[])
          group by r.id, r.order_line_id, d.number having sum(e.quantity) <> 0 order by r.id`,
  );
  const byLine = new Map<bigint, ReceiptLot[]>();
  for (const l of lots)
    byLine.set(l.orderLineId, [
      ...(byLine.get(l.orderLineId) ?? []),
      {
        receiptLine: Number(l.id),
        receipt: l.receipt,
        quantityLeft: l.quantity,
        foreignLeft: minor(l.foreign ?? 0n),
        functionalLeft: minor(l.functional ?? 0n),
        cleaned: minor(l.cleaned),
        cleanedTo: l.cleanedTo,
      },
    ]);
  const tolerances = await readTolerances(tx);
  return new Map(
    lines.map(({ group, kind: _kind, accrual: _accrual, ...l }) => {
      const t = toleranceFor(tolerances, l.supplier, group);
      return [
        l.ref,
        {
          ...l,
          orderId: Number(l.orderId),
          orderLine: Number(l.orderLine),
          exponent: exponentOf(l.currency),
          lots: byLine.get(l.orderLine) ?? [],
          priceTolerance: { percent: t?.pricePercent ?? null, amount: t?.priceAmount ?? null },
          quantityTolerance: {
            percent: t?.quantityPercent ?? null,
            amount: t?.quantityAmount ?? null,
          },
        },
      ];
    }),
  );
}

/**
 * Notes what a posted invoice has billed of orders and cleared of receipts. `sign` is −1 for credit
 * notes.
 */
export async function recordMatches(
  context: Context,
  invoiceId: number,
  companyId: number,
  matches: readonly (LineMatch & { line: number })[],
  journal: { id: number; seq: bigint; date: CalendarDate },
  sign: bigint,
): Promise<void> {
  if (matches.length === 0) return;
  const { tx } = context;
  await insertAll(
    tx,
    schema.invoiceMatch,
    matches.map((m) => ({
      invoiceId,
      journalId: journal.id,
      line: m.line,
      orderLineId: m.orderLine,
      quantity: sign * m.quantity,
    })),
  );
  await countInvoiced(context, journal.id);
  const base = {
    companyId,
    documentId: invoiceId,
    journalId: journal.id,
    seq: journal.seq,
    date: journal.date,
  };
  await storeEntries(
    context,
    matches.flatMap((m) =>
      m.uses.flatMap((u): EntryToStore[] => [
        {
          ...base,
          receiptLineId: u.receiptLine,
          kind: "invoiced",
          quantity: -sign * u.quantity,
          foreign: minor(-sign * u.foreign),
          functional: minor(-sign * u.functional),
        },
        ...(u.reopened === 0n || !u.reopenedFrom
          ? []
          : [
              {
                ...base,
                receiptLineId: u.receiptLine,
                kind: "reopened" as const,
                quantity: 0n,
                foreign: minor(0n),
                functional: u.reopened,
                account: u.reopenedFrom.account,
                dimensions: u.reopenedFrom.dimensions,
              },
            ]),
      ]),
    ),
  );
  const receipts = await rows<{ id: bigint }>(
    tx,
    sql`select distinct receipt_id as id from goods_receipt_line
      where id =
      any(${arrayOf(matches.flatMap((m) => m.uses.map((u) => u.receiptLine)))}::bigint[])`,
  );
  await documentLinks(
    tx,
    "invoiced",
    [...new Set([...matches.map((m) => m.orderId), ...receipts.map((r) => Number(r.id))])].map(
      (from) => [from, invoiceId] as const,
    ),
  );
}

/** Carries what a journal has billed, or taken back, into the lines of the orders. */
const countInvoiced = ({ tx }: Context, journalId: number): Promise<unknown> =>
  tx.execute(
    sql`update order_line l set invoiced = l.invoiced + x.quantity
      from (select order_line_id as line, sum(quantity)::bigint as quantity from invoice_match
      where journal_id = ${journalId} group by 1) x where l.id = x.line`,
  );

/** Takes back what a cancelled invoice had billed and cleared. */
export async function undoMatches(
  context: Context,
  invoiceId: number,
  journal: { id: number; date: CalendarDate },
): Promise<void> {
  // What was billed stays to be read: accruals of earlier days rest on it.
  await context.tx.execute(
    sql`insert into invoice_match (invoice_id, journal_id, line, order_line_id, quantity)
      select invoice_id, ${journal.id}, line, order_line_id, -quantity from invoice_match
      where invoice_id = ${invoiceId}`,
  );
  await countInvoiced(context, journal.id);
  await undoEntries(context, invoiceId, journal);
}

/**
 * A line of an order in force as an invoice line could bill it: what has come and is not invoiced;
 * of services, what was ordered.
 */
export interface BillableLine {
  ref: string;
  supplier: string;
  description: string;
  unit: string;
  /** Thousandths. */
  quantity: bigint;
  net: Minor;
  currency: string;
  account: string;
  dimensions: Record<string, string>;
  taxCode: string;
}

export const billableLines = defineUseCase({
  name: "billableLines",
  kind: "read",
  rights: ["read.payables"],
  what: "see orders",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    /** Of one supplier; of all where it is left out. */
    supplier: string().default(""),
  }),
  run: async ({ tx, masters }, input): Promise<Result<BillableLine[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<BillableLine, "net"> & { net: bigint }>(
      tx,
      sql`select x.ref, x.supplier, x.description, x.unit, x.left as quantity,
        round(x.net::numeric * x.left / x.quantity)::bigint as net, x.currency, x.account,
        x.dimensions, x."taxCode" from (
            select d.number || '/' || l.no as ref, p.code as supplier, l.description, l.unit,
              l.quantity, l.net, d.currency, l.account, l.dimensions, l.tax_code as "taxCode",
              case when l.kind = 'service' and l.received = 0 then l.quantity - l.invoiced
              else greatest(l.received - l.invoiced, 0) end as "left", d.date, l.no
            from order_line l join document d on d.id = l.order_id
              join purchase_order o on o.document_id = l.order_id
              join partner p on p.id = o.partner_id
              where d.company_id = ${company.id} and d.status = 'open'
              and l.invoiced < l.quantity
              ${input.supplier ? sql`and p.code = ${input.supplier}` : sql``}) x
            order by x.date, x.ref, x.no`,
    );
    return ok(found.map((f) => ({ ...f, net: minor(f.net) })));
  },
});
