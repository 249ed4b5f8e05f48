import { sql, type SQL } from "drizzle-orm";
import { object, string, type InferType } from "yup";
import { writtenAccountProblem, type JournalDraft } from "@/core/ledger";
import { conversionOn, convertBy } from "@/core/rates";
import type { RunItem } from "@/core/runs";
import {
  addDays,
  dateText,
  fail,
  minor,
  ok,
  proportion,
  type Minor,
  type Result,
} from "@/core/shared";
import type { Context } from "../access";
import { rows } from "../db";
import { loadPeriods } from "../organisation";
import { ratesFor } from "../rates";
import { defineRunInParts } from "../runs";

const schema = object({
  company: string().required(),
  period: string().required("The period is missing"),
  account: string().default("2410"),
});
type Params = InferType<typeof schema>;

/** So many order lines are computed at once. */
const AT_ONCE = 2000;

/**
 * What was received by the end of a period and not invoiced, of orders that accrue only then:
 * accrued on one journal per supplier, which is reversed on the first day after it.
 * It goes to accrued expenses, not to the control account of what accrues at receipt, so that the
 * list of leftovers always equals that account.
 */
export const accrualRun = defineRunInParts({
  id: "accrual",
  right: "post.payables",
  approved: "by rules",
  schema,
  parts: {
    async begin({ tx, masters }, params) {
      const place = await placeOf({ tx, masters }, params);
      if (!place.ok) return place;
      const { company, period } = place.value;
      const fault = writtenAccountProblem(masters, params.account, { field: "account" });
      if (fault) return fail(fault);
      const [found] = await rows<{ size: number }>(
        tx,
        sql`select count(*)::int as size from ${receivedNotInvoiced(company.id, period.end)}`,
      );
      if (found!.size === 0)
        return fail({
          code: "NOT_FOUND",
          what: `line of ${company.name} that was received by ${dateText(period.end)}, is not invoiced, and accrues at a period's end`,
        });
      return ok({
        company: company.code,
        yearId: period.yearId,
        date: period.end,
        title: `Accrual of goods receipts to ${dateText(period.end)}, ${company.name}`,
        size: found!.size,
      });
    },
    async stand(context, params) {
      const place = await placeOf(context, params);
      if (!place.ok) return "";
      const { company, period } = place.value;
      const [found] = await rows<{ stand: string }>(
        context.tx,
        sql`select md5(coalesce(string_agg(concat_ws('|', x.id, x.currency, x.account, x.dimensions,
            x.quantity, x.net, x.burden, x.received, x.invoiced), ';' order by x.id), ''))
          || (select count(*) || '.' || coalesce(max(id), 0) from rate) as stand
          from ${receivedNotInvoiced(company.id, period.end)}`,
      );
      return found!.stand;
    },
    async part(context, params, _overrides, after) {
      const place = await placeOf(context, params);
      if (!place.ok) return place;
      const { company, period } = place.value;
      const found = await rows<AccruableLine>(
        context.tx,
        sql`select x.* from ${receivedNotInvoiced(company.id, period.end)}
          ${after === "" ? sql`` : sql`where (x."supplierName", x.id) > ${placeIn(after)}`}
          order by x."supplierName", x.id limit ${AT_ONCE}`,
      );
      const items = await itemsOf(context, params, period.end, found);
      const last = found.length < AT_ONCE ? undefined : found.at(-1);
      return ok({
        items,
        next: last ? JSON.stringify([last.supplierName, String(last.id)]) : null,
      });
    },
    async explain(context, params, key) {
      const place = await placeOf(context, params);
      const [line] = place.ok
        ? await rows<AccruableLine>(
            context.tx,
            sql`select x.* from ${receivedNotInvoiced(place.value.company.id, place.value.period.end)}
              where x.id = ${Number(key.split("|")[0])}`,
          )
        : [];
      if (!place.ok || !line) return { title: "Nothing is left to accrue", steps: [] };
      const [item] = await itemsOf(context, params, place.value.period.end, [line]);
      return {
        title: `${line.order}/${line.no}`,
        steps: [
          {
            label: "Received less invoiced, of ordered",
            text: `${Number(line.received - line.invoiced) / 1000} of ${Number(line.quantity) / 1000}`,
          },
          { label: "At order price", amount: item!.amount, total: true },
        ],
      };
    },
    async finish({ tx, masters }, params, run) {
      const place = await placeOf({ tx, masters }, params);
      if (!place.ok) return place;
      const { company, period } = place.value;
      const sums = await rows<{
        supplier: string;
        account: string;
        dimensions: Record<string, string>;
        lines: number;
        label: string;
        amount: Minor;
      }>(
        tx,
        sql`select grouping as supplier, detail->>'account' as account,
          detail->'dimensions' as dimensions, count(*)::int as lines, min(label) as label,
          sum(amount)::bigint as amount
          from run_item where run_id = ${run} and state = 'in'
          group by 1, 2, 3 order by 1, 2, 3`,
      );
      const suppliers = [...new Set(sums.map((s) => s.supplier))];
      const drafts = suppliers.map((supplier): JournalDraft => {
        const own = sums.filter((s) => s.supplier === supplier);
        const total = minor(own.reduce((t, s) => t + s.amount, 0n));
        return {
          company: company.code,
          type: "purchase",
          book: null,
          date: period.end,
          description: `Received, not invoiced: ${supplier}`.slice(0, 200),
          reverseOn: addDays(period.end, 1),
          lines: [
            ...own.map((s) => ({
              account: s.account,
              dimensions: s.dimensions,
              description: (s.lines === 1 ? s.label : `${s.lines} order lines`).slice(0, 200),
              written: true as const,
              side: "debit" as const,
              amount: s.amount,
            })),
            {
              account: params.account,
              dimensions: {},
              description: supplier.slice(0, 200),
              side: "credit" as const,
              amount: total,
            },
          ],
        };
      });
      return ok({
        drafts,
        warnings: ["Each journal is reversed on the first day of the next period."],
        figures: [{ label: "Accrued", amount: minor(sums.reduce((t, s) => t + s.amount, 0n)) }],
      });
    },
  },
});

type Place = Pick<Context, "tx" | "masters">;

async function placeOf({ tx, masters }: Place, params: Params) {
  const company = masters.companyByCode.get(params.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
  const period = (await loadPeriods(tx, [company.id])).find(
    (p) => !p.adjustment && p.end.slice(0, 7) === params.period,
  );
  if (!period)
    return fail({
      code: "PERIOD_UNKNOWN",
      period: params.period,
      company: company.name,
      field: "period",
    });
  return ok({ company, period }) satisfies Result<unknown>;
}

interface AccruableLine {
  id: bigint;
  no: number;
  order: string;
  supplierName: string;
  currency: string;
  account: string;
  dimensions: Record<string, string>;
  description: string;
  quantity: bigint;
  net: bigint;
  burden: bigint;
  received: bigint;
  invoiced: bigint;
}

/** Lines of orders that accrue at a period's end, of which more has come by a day than is invoiced. */
const receivedNotInvoiced = (companyId: number, day: string): SQL => sql`(
  select l.id, l.no, d.number as order, p.name as "supplierName", d.currency, l.account,
    l.dimensions, l.description, l.quantity, l.net, l.burden, x.received,
    coalesce(y.invoiced, 0)::bigint as invoiced
  from order_line l join document d on d.id = l.order_id
    join purchase_order o on o.document_id = l.order_id
    join partner p on p.id = o.partner_id
    join lateral (select sum(r.quantity)::bigint as received from goods_receipt_line r
      join document g on g.id = r.receipt_id
      where r.order_line_id = l.id and r.date <= ${day} and g.status = 'posted') x on true
    left join lateral (select sum(m.quantity)::bigint as invoiced from invoice_match m
      join journal j on j.id = m.journal_id
      where m.order_line_id = l.id and j.date <= ${day}) y on true
  where d.company_id = ${companyId} and o.content->>'accrual' = 'period end'
    and d.status in ('open', 'closed') and coalesce(x.received, 0) > coalesce(y.invoiced, 0)) x`;

function placeIn(after: string): SQL {
  const [name, id] = JSON.parse(after) as [string, string];
  return sql`(${name}::text, ${id}::bigint)`;
}

/** What each line is worth at order price, in functional currency at the day's rate. */
async function itemsOf(
  { tx, masters }: Place,
  params: Params,
  day: string,
  lines: readonly AccruableLine[],
): Promise<RunItem[]> {
  const { code, currency } = masters.companyByCode.get(params.company)!;
  const rates = await ratesFor(
    tx,
    masters,
    lines.map((l) => ({ companies: [code], currency: l.currency, date: day })),
  );
  return lines.map((l): RunItem => {
    const foreign = proportion(l.net + l.burden, l.received - l.invoiced, l.quantity);
    const rate = conversionOn(rates, "spot", l.currency, currency, day);
    const amount = rate === null ? minor(0n) : convertBy(foreign, l.currency, currency, rate);
    const leftOut =
      rate === null
        ? `no rate from ${l.currency} is known`
        : amount <= 0n
          ? "it is worth nothing"
          : undefined;
    return {
      key: `${l.id}|${params.period}`,
      group: l.supplierName,
      label: `${l.order}/${l.no} ${l.description}`,
      amount,
      why: "received, not invoiced",
      droppable: true,
      ...(leftOut === undefined ? {} : { leftOut }),
      detail: { account: l.account, dimensions: l.dimensions },
    };
  });
}
