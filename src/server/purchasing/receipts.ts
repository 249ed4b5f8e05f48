import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { readQuantity, quantityText, type JournalDraft } from "@/core/ledger";
import { type Conversion, conversionOn, convertBy, impliedRate, rateProblem } from "@/core/rates";
import {
  dateText,
  fail,
  isCalendarDate,
  minor,
  ok,
  proportion,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
  dayField,
} from "@/core/shared";
import { arrayOf, rows, likeText } from "../db";
import { defineUseCase, type Context, companiesOf, lockChains } from "../access";
import { documentLinks, takeNumber } from "../documents";
import { postDrafts, reverseJournals } from "../ledger";
import { loadYears } from "../organisation";
import { ratesFor } from "../rates";
import { grniAccount, storeEntries, undoEntries, type EntryToStore } from "./grniEntries";
import { idSchema, readTolerances, toleranceFor } from "./masters";

/** What is looked at again when an order is received or changed, so that what waited goes on. */
export type AfterReceipt = (context: Context, orderId: number) => Promise<Result<unknown>>;
export async function tellReceipt(context: Context, orderId: number): Promise<Result<unknown>> {
  for (const look of (await import("../kinds")).AFTER_RECEIPT) {
    const done = await look(context, orderId);
    if (!done.ok) return done;
  }
  return ok({});
}

interface LineToReceive {
  id: bigint;
  no: number;
  kind: string;
  group: string;
  account: string;
  dimensions: Record<string, string>;
  description: string;
  quantity: bigint;
  net: bigint;
  burden: bigint;
  received: bigint;
  invoiced: bigint;
}
/**
 * Takes in what has come of an order, or notes what went back (negative quantities): in part, in
 * full, or beyond it within the tolerance.
 * Where the order accrues at receipt, each line is posted at order price and the day's rate,
 * without the tax that can be recovered.
 */
export const receiveOrder = defineUseCase({
  name: "receiveOrder",
  kind: "write",
  rights: ["prepare.payables", "post.payables"],
  what: "receive orders",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.order]),
  schema: object({
    order: number().integer().required(),
    date: string().required("The day is missing"),
    note: string().trim().default("").max(100),
    lines: array(object({ no: number().integer().required(), quantity: string().default("") }))
      .required()
      .min(1, "Say what has come")
      .max(1000),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ id: number; number: string; journal: string | null }>> => {
    const { tx, masters, person, now } = context;
    const [order] = await rows<{
      number: string;
      status: string;
      company: string;
      companyId: number;
      currency: string;
      supplier: string;
      supplierName: string;
      accrual: string;
      date: string;
    }>(
      tx,
      sql`select d.number, d.status, c.code as company, c.id as "companyId", d.currency,
        p.code as supplier, p.name as "supplierName", coalesce(o.content->>'accrual',
        'receipt') as accrual, d.date
          from purchase_order o join document d on d.id = o.document_id
            join company c on c.id = d.company_id join partner p on p.id = o.partner_id
            where o.document_id = ${input.order} and d.kind = 'order' for update of o`,
    );
    if (!order) return fail({ code: "NOT_FOUND", what: "such order" });
    if (!context.may("prepare.payables", order.company))
      return fail({ code: "FORBIDDEN", what: `receive orders of ${order.company}` });
    if (order.status !== "open")
      return fail({
        code: "IN_USE",
        what: `Order ${order.number ?? ""} is ${order.status}; only one in force is received`,
      });
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    if (input.date < order.date)
      return fail({
        code: "INVALID",
        what: `The order is of ${dateText(order.date)}; nothing was received before`,
        field: "date",
      });
    const company = masters.companyById.get(order.companyId)!;
    await lockChains(tx, [company.code]);
    const lines = new Map(
      (
        await rows<LineToReceive>(
          tx,
          sql`select id, no, kind, item_group as "group", account, dimensions, description,
            quantity, net, burden, received, invoiced from order_line
            where order_id = ${input.order} for update`,
        )
      ).map((l) => [l.no, l]),
    );
    const tolerances = await readTolerances(tx);
    const problems: Found[] = [];
    const taken: { line: LineToReceive; quantity: bigint }[] = [];
    input.lines.forEach((written, i) => {
      if (written.quantity.trim() === "") return;
      const line = lines.get(written.no);
      const quantity = readQuantity(written.quantity);
      if (!line)
        problems.push({ code: "NOT_FOUND", what: `line ${written.no} in this order`, line: i + 1 });
      else if (taken.some((t) => t.line === line))
        problems.push({
          code: "INVALID",
          what: `Line ${line.no} is received twice here; add the quantities`,
          line: i + 1,
        });
      else if (quantity === null || quantity === 0n)
        problems.push({
          code: "QUANTITY_INVALID",
          text: written.quantity,
          line: i + 1,
          field: "quantity",
        });
      else {
        const after = line.received + quantity;
        const percent = toleranceFor(tolerances, order.supplier, line.group)?.receiptPercent ?? "0";
        const most =
          line.quantity + (line.quantity * BigInt(Math.round(Number(percent) * 100))) / 10_000n;
        if (after < 0n)
          problems.push({
            code: "INVALID",
            what: `Only ${quantityText(line.received)} of line ${line.no} were received; no more can go back`,
            line: i + 1,
            field: "quantity",
          });
        else if (quantity > 0n && after > most)
          problems.push({
            code: "INVALID",
            what: `${quantityText(after)} would be received of ${quantityText(line.quantity)} ordered on line ${line.no}; ${percent === "0" ? "nothing" : `${percent} %`} may come beyond. Change the order first, or send the rest back`,
            line: i + 1,
            field: "quantity",
          });
        else taken.push({ line, quantity });
      }
    });
    if (taken.length === 0 && problems.length === 0)
      problems.push({ code: "REQUIRED", what: "A quantity" });
    const accrues = order.accrual === "receipt";
    const grni = grniAccount(masters);
    if (accrues && !grni)
      problems.push({ code: "PURPOSE_MISSING", purpose: "goods received and not invoiced" });
    const rates = await ratesFor(tx, masters, [
      { companies: [company.code], currency: order.currency, date: input.date },
    ]);
    const rate = conversionOn(rates, "spot", order.currency, company.currency, input.date);
    if (rate === null)
      problems.push({
        ...rateProblem(rates, "spot", order.currency, company.currency, input.date),
        field: "date",
      });
    const year = (await loadYears(tx, [company.id])).find(
      (y) => y.start <= input.date && input.date <= y.end,
    );
    if (!year)
      problems.push({
        code: "PERIOD_MISSING",
        date: dateText(input.date),
        company: company.name,
        field: "date",
      });
    const [first, ...others] = problems;
    if (first || rate === null) return fail(first!, ...others);

    const receiptNumber = await takeNumber(tx, { series: "receipt", company, year: year! });
    const value = minor(
      taken.reduce(
        (t, x) => t + proportion(x.line.net + x.line.burden, x.quantity, x.line.quantity),
        0n,
      ),
    );
    const title =
      `${order.supplierName}, received of ${order.number}${input.note ? `, note ${input.note}` : ""}`.slice(
        0,
        200,
      );
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into document (kind, type, number, company_id, date, amount, currency, title,
        search, created_by, created_at, status)
        values ('receipt', ${accrues ? "accrued" : "not accrued"}, ${receiptNumber}, ${company.id},
        ${input.date}, ${value}, ${order.currency}, ${title},
        ${`${receiptNumber} ${title}`.toLowerCase()}, ${person.id}, ${now.toISOString()}, 'posted')
        returning id`,
    );
    const id = Number(made!.id);
    const stored = await rows<{ id: bigint; orderLineId: bigint }>(
      tx,
      sql`insert into receipt_line (receipt_id, order_line_id, quantity, date) select ${id}, x.line,
        x.quantity, ${input.date} from unnest(${arrayOf(taken.map((t) => t.line.id))}::bigint[],
        ${arrayOf(taken.map((t) => t.quantity))}::bigint[]) as x(line, quantity)
        returning id, order_line_id as "orderLineId"`,
    );
    await tx.execute(
      sql`update order_line l set received = received + x.quantity
        from (select line, sum(quantity)::bigint as quantity
        from unnest(${arrayOf(taken.map((t) => t.line.id))}::bigint[],
        ${arrayOf(taken.map((t) => t.quantity))}::bigint[]) as y(line, quantity) group by line) x
        where l.id = x.line`,
    );
    await documentLinks(tx, "received", [[input.order, id]]);
    let journal: string | null = null;
    if (accrues) {
      const posted = await accrue(
        context,
        {
          id,
          number: receiptNumber,
          date: input.date,
          currency: order.currency,
          rate,
          company: company.code,
          supplier: order.supplierName,
          order: order.number,
          grni: grni!,
        },
        taken.map((t) => ({
          ...t,
          receiptLine: Number(stored.find((s) => s.orderLineId === t.line.id)!.id),
        })),
      );
      if (!posted.ok) return posted;
      journal = posted.value;
    }
    await context.audit({
      action: "received",
      kind: "receipt",
      recordId: id,
      label: receiptNumber,
      companyId: company.id,
      after: {
        order: order.number,
        lines: taken.map((t) => ({ no: t.line.no, quantity: quantityText(t.quantity) })),
      },
    });
    const told = await tellReceipt(context, input.order);
    return told.ok ? ok({ id, number: receiptNumber, journal }) : told;
  },
});

interface Accrual {
  id: number;
  number: string;
  date: CalendarDate;
  currency: string;
  rate: Conversion;
  company: string;
  supplier: string;
  order: string;
  grni: string;
}

/**
 * Posts what a receipt accrues; what costs nothing accrues nothing, and its invoice is compared
 * with the order alone. What goes back is first taken from what is not invoiced yet, at the value
 * at which that was accrued; the rest waits for a credit note.
 */
async function accrue(
  context: Context,
  receipt: Accrual,
  all: readonly { line: LineToReceive; quantity: bigint; receiptLine: number }[],
): Promise<Result<string | null>> {
  const { tx, masters } = context;
  const taken = all.filter(({ line }) => line.net + line.burden !== 0n);
  const functionalCurrency = masters.companyByCode.get(receipt.company)!.currency;
  const functionalOf = (foreign: bigint): bigint =>
    convertBy(minor(foreign), receipt.currency, functionalCurrency, receipt.rate);
  const entries: Omit<EntryToStore, "journalId" | "seq" | "companyId">[] = [];
  // One for each rate: what goes back does so at the rate at which its lot was carried.
  const values: { line: LineToReceive; foreign: bigint; functional: bigint; rate: Conversion }[] =
    [];
  const carriedAt = (foreign: bigint, functional: bigint): Conversion => {
    if (receipt.rate === "same") return "same";
    const { currency } = receipt;
    const rate = impliedRate(minor(foreign), currency, minor(functional), functionalCurrency);
    return rate === null || Number(rate) === 0 ? receipt.rate : { rate };
  };
  const accrued = new Map(
    (
      await rows<{ id: bigint; quantity: bigint; foreign: bigint }>(
        tx,
        sql`select r.order_line_id as id, sum(e.quantity)::bigint as quantity,
            sum(e."foreign")::bigint as foreign
          from receipt_line r join grni_entry e on e.receipt_line_id = r.id
          where r.order_line_id = any(${arrayOf(taken.map((t) => t.line.id))}::bigint[])
            and e.kind in ('received', 'returned') group by 1`,
      )
    ).map((a) => [a.id, a]),
  );
  for (const { line, quantity, receiptLine } of taken) {
    let open = quantity;
    let foreignBack = 0n;
    if (quantity < 0n) {
      const lots = await rows<{
        id: bigint;
        quantity: bigint;
        foreign: bigint;
        functional: bigint;
        cleaned: bigint;
      }>(
        tx,
        sql`select r.id, sum(e.quantity)::bigint as quantity,
          sum(case when e.kind not in ('cleaned', 'reopened') then e."foreign"
          else 0 end)::bigint as foreign, sum(case when e.kind not in ('cleaned',
          'reopened') then e.functional else 0 end)::bigint as functional,
          sum(case when e.kind in ('cleaned', 'reopened') then -e.functional
          else 0 end)::bigint as cleaned
            from receipt_line r join grni_entry e on e.receipt_line_id = r.id
              where r.order_line_id = ${line.id} group by r.id having sum(e.quantity) > 0
              order by r.id desc`,
      );
      for (const lot of lots) {
        if (open === 0n) break;
        // What was written off is gone from the account; it is not sent back a second time.
        if (lot.cleaned !== 0n) continue;
        const back = lot.quantity < -open ? lot.quantity : -open;
        const [foreign, functional] = [
          proportion(lot.foreign, back, lot.quantity),
          proportion(lot.functional, back, lot.quantity),
        ];
        entries.push({
          receiptLineId: Number(lot.id),
          kind: "returned",
          documentId: receipt.id,
          date: receipt.date,
          quantity: -back,
          foreign: minor(-foreign),
          functional: minor(-functional),
        });
        values.push({
          line,
          foreign: -foreign,
          functional: -functional,
          rate: carriedAt(foreign, functional),
        });
        foreignBack -= foreign;
        open += back;
      }
    }
    if (open !== 0n) {
      // The value of all that came so far, less what was accrued of it: what receipts would round
      // each by itself does not add up.
      const before = accrued.get(line.id) ?? { quantity: 0n, foreign: 0n };
      const back = { quantity: quantity - open, foreign: foreignBack };
      const reached = before.quantity + back.quantity + open;
      const foreign =
        proportion(line.net + line.burden, reached, line.quantity) - before.foreign - back.foreign;
      const functional = functionalOf(foreign);
      entries.push({
        receiptLineId: receiptLine,
        kind: open > 0n ? "received" : "returned",
        documentId: receipt.id,
        date: receipt.date,
        quantity: open,
        foreign: minor(foreign),
        functional: minor(functional),
      });
      values.push({ line, foreign, functional, rate: receipt.rate });
    }
  }
  const foreignJournal = receipt.rate !== "same";
  const size = (n: bigint): Minor => minor(n < 0n ? -n : n);
  const draft: JournalDraft = {
    company: receipt.company,
    type: "purchase",
    book: null,
    date: receipt.date,
    ...(foreignJournal ? { currency: receipt.currency } : {}),
    description: `Received from ${receipt.supplier}, ${receipt.order}`.slice(0, 200),
    reference: receipt.number,
    origin: receipt.id,
    lines: values
      .filter((v) => v.functional !== 0n || v.foreign !== 0n)
      .flatMap((v) => {
        const back = (v.functional === 0n ? v.foreign : v.functional) < 0n;
        const amounts = {
          amount: size(v.functional),
          ...(foreignJournal
            ? { foreignAmount: size(v.foreign), ...(v.rate === "same" ? {} : v.rate) }
            : {}),
          description: v.line.description,
        };
        return [
          {
            account: v.line.account,
            written: true as const,
            dimensions: v.line.dimensions,
            side: back ? ("credit" as const) : ("debit" as const),
            ...amounts,
          },
          {
            account: receipt.grni,
            dimensions: {},
            side: back ? ("debit" as const) : ("credit" as const),
            ...amounts,
          },
        ];
      }),
  };
  if (draft.lines.length === 0) return ok(null);
  const posted = await postDrafts(context, [draft], {});
  if (!posted.ok)
    return fail(
      ...(posted.problems.map((p) =>
        p.code === "FORBIDDEN"
          ? {
              ...p,
              what: "receive goods that are accrued at once; somebody who posts payables has to",
            }
          : p,
      ) as [Found, ...Found[]]),
    );
  const [journal] = posted.value;
  const companyId = masters.companyByCode.get(receipt.company)!.id;
  await storeEntries(
    context,
    entries.map((e) => ({ ...e, companyId, journalId: journal!.id, seq: journal!.seq })),
  );
  await documentLinks(tx, "made", [[receipt.id, journal!.id]]);
  return ok(journal!.number);
}

/** Takes a receipt back that was entered wrongly. One that is invoiced, even in part, can't be. */
export const cancelReceipt = defineUseCase({
  name: "cancelReceipt",
  kind: "write",
  rights: ["reverse.payables"],
  what: "cancel receipts",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<{ journal: string | null }>> => {
    const { tx } = context;
    const [receipt] = await rows<{
      number: string;
      status: string;
      company: string;
      companyId: number;
    }>(
      tx,
      sql`select d.number, d.status, c.code as company, c.id as "companyId" from document d
        join company c on c.id = d.company_id
        where d.id = ${input.id} and d.kind = 'receipt' for update of d`,
    );
    if (!receipt) return fail({ code: "NOT_FOUND", what: "such receipt" });
    if (!context.may("reverse.payables", receipt.company))
      return fail({ code: "FORBIDDEN", what: `cancel receipts of ${receipt.company}` });
    if (receipt.status !== "posted") return fail({ code: "RUN_STATE", state: receipt.status });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    await lockChains(tx, [receipt.company]);
    const [later] = await rows<{ kind: string; number: string }>(
      tx,
      sql`select e.kind, coalesce(d.number, '') as number from grni_entry e
        join receipt_line r on r.id = e.receipt_line_id join document d on d.id = e.document_id
        where r.receipt_id = ${input.id} and e.document_id <> ${input.id} group by e.kind, d.number,
        d.id having sum(e.quantity) <> 0 or sum(e.functional) <> 0 limit 1`,
    );
    if (later)
      return fail({
        code: "IN_USE",
        what: `${receipt.number} has been ${later.kind} by ${later.number}; undo that first`,
      });
    const journals = await rows<{ id: bigint }>(
      tx,
      sql`select j.id from journal j where j.origin_id = ${input.id} and j.reverses_id is null`,
    );
    let journal: { id: number; number: string; date: string } | null = null;
    if (journals.length > 0) {
      const reversed = await reverseJournals(
        context,
        journals.map((j) => Number(j.id)),
        null,
      );
      if (!reversed.ok) return reversed;
      journal = reversed.value[0]!;
      await undoEntries(context, input.id, { id: journal.id, date: journal.date });
    }
    await tx.execute(
      sql`update order_line l set received = l.received - r.quantity from receipt_line r
        where r.receipt_id = ${input.id} and r.order_line_id = l.id`,
    );
    await tx.execute(sql`update document set status = 'cancelled' where id = ${input.id}`);
    await context.audit({
      action: "cancelled",
      kind: "receipt",
      recordId: input.id,
      label: receipt.number,
      companyId: receipt.companyId,
      after: { reason: input.reason },
    });
    return ok({ journal: journal?.number ?? null });
  },
});

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
