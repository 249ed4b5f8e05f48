import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { readQuantity, quantityText } from "@/core/ledger";
import { conversionOn, rateProblem } from "@/core/rates";
import {
  dateText,
  fail,
  isCalendarDate,
  minor,
  ok,
  proportion,
  type Found,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, companiesOf, lockChains } from "../access";
import { documentLinks, register, takeNumber } from "../documents";
import { loadYears } from "../organisation";
import { ratesFor } from "../rates";
import { grniAccount } from "./grniEntries";
import { readTolerances, toleranceFor } from "./masters";
import { accrue } from "./accrue";
import { tellGoodsReceipt } from "./tellGoodsReceipt";

export interface LineToReceive {
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
    const { tx, masters } = context;
    const [order] = await rows<{
      number: string;
      status: string;
      company: string;
      companyId: number;
      currency: string;
      partnerId: number;
      supplier: string;
      supplierName: string;
      accrual: string;
      date: string;
    }>(
      tx,
      sql`select d.number, d.status, c.code as company, c.id as "companyId", d.currency,
        p.id as "partnerId", p.code as supplier, p.name as "supplierName", coalesce(o.content->>'accrual',
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

    const receiptNumber = await takeNumber(tx, { series: "goods-receipt", company, year: year! });
    const value = minor(
      taken.reduce(
        (t, x) => t + proportion(x.line.net + x.line.burden, x.quantity, x.line.quantity),
        0n,
      ),
    );
    const title = `${order.supplierName}, received of ${order.number}${input.note ? `, note ${input.note}` : ""}`;
    const [made] = await register(context, [
      {
        kind: "goods-receipt",
        type: accrues ? "accrued" : "not accrued",
        number: receiptNumber,
        companyId: company.id,
        date: input.date,
        amount: value,
        currency: order.currency,
        title,
        partnerId: order.partnerId,
        status: "posted",
      },
    ]);
    const id = made!;
    const stored = await rows<{ id: bigint; orderLineId: bigint }>(
      tx,
      sql`insert into goods_receipt_line (receipt_id, order_line_id, quantity, date) select ${id}, x.line,
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
      kind: "goods-receipt",
      recordId: id,
      label: receiptNumber,
      companyId: company.id,
      after: {
        order: order.number,
        lines: taken.map((t) => ({ no: t.line.no, quantity: quantityText(t.quantity) })),
      },
    });
    const told = await tellGoodsReceipt(context, input.order);
    return told.ok ? ok({ id, number: receiptNumber, journal }) : told;
  },
});
