import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { writtenAccountProblem, type JournalDraft } from "@/core/ledger";
import { conversionOn, convertBy } from "@/core/rates";
import { addDays, dateText, fail, minor, ok, proportion } from "@/core/shared";
import { rows } from "../db";
import { loadPeriods } from "../organisation";
import { ratesFor } from "../rates";
import { defineRunKind } from "../runs";

/**
 * What was received by the end of a period and not invoiced, of orders that accrue only then:
 * accrued on one journal per supplier, which is reversed on the first day after it.
 * It goes to accrued expenses, not to the control account of what accrues at receipt, so that the
 * list of leftovers always equals that account.
 */
export const accrualRun = defineRunKind({
  id: "accrual",
  right: "post.payables",
  approved: "by rules",
  schema: object({
    company: string().required(),
    period: string().required("The period is missing"),
    account: string().default("2410"),
  }),
  async propose({ tx, masters }, params, overrides) {
    const company = masters.companyByCode.get(params.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
    const period = (await loadPeriods(tx, [company.id])).find(
      (p) => !p.adjustment && `${p.end.slice(0, 7)}` === params.period,
    );
    if (!period)
      return fail({
        code: "PERIOD_UNKNOWN",
        period: params.period,
        company: company.name,
        field: "period",
      });
    const fault = writtenAccountProblem(masters, params.account, { field: "account" });
    if (fault) return fail(fault);
    const found = await rows<{
      id: bigint;
      no: number;
      order: string;
      supplier: string;
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
    }>(
      tx,
      sql`select l.id, l.no, d.number as order, p.code as supplier, p.name as "supplierName",
        d.currency, l.account, l.dimensions, l.description, l.quantity, l.net, l.burden, x.received,
        coalesce(y.invoiced, 0)::bigint as invoiced
          from order_line l join document d on d.id = l.order_id
            join purchase_order o on o.document_id = l.order_id
            join partner p on p.id = o.partner_id
            join lateral (select sum(r.quantity)::bigint as received from receipt_line r
              join document g on g.id = r.receipt_id
              where r.order_line_id = l.id and r.date <= ${period.end} and g.status = 'posted') x
              on true
            left join lateral (select sum(m.quantity)::bigint as invoiced from invoice_match m
              join journal j on j.id = m.journal_id
              where m.order_line_id = l.id and j.date <= ${period.end}) y on true
          where d.company_id = ${company.id} and o.content->>'accrual' = 'period end'
            and d.status in ('open', 'closed') and coalesce(x.received, 0) > coalesce(y.invoiced, 0)
            order by p.name, d.number, l.no`,
    );
    if (found.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `line of ${company.name} that was received by ${dateText(period.end)}, is not invoiced, and accrues at a period's end`,
      });
    const rates = await ratesFor(
      tx,
      masters,
      found.map((f) => ({ companies: [company.code], currency: f.currency, date: period.end })),
    );
    const groups = new Map<string, JournalDraft["lines"][number][]>();
    const items = found.map((f) => {
      const foreign = proportion(f.net + f.burden, f.received - f.invoiced, f.quantity);
      const rate = conversionOn(rates, "spot", f.currency, company.currency, period.end);
      const amount =
        rate === null ? minor(0n) : convertBy(foreign, f.currency, company.currency, rate);
      const key = `${f.id}|${params.period}`;
      if (rate !== null && amount > 0n && !overrides.dropped.includes(key)) {
        const line = {
          dimensions: f.dimensions,
          description: `${f.order}/${f.no} ${f.description}`.slice(0, 200),
          amount,
        };
        groups.set(f.supplierName, [
          ...(groups.get(f.supplierName) ?? []),
          { ...line, account: f.account, written: true as const, side: "debit" },
          { ...line, account: params.account, dimensions: {}, side: "credit" },
        ]);
      }
      return {
        key,
        group: f.supplierName,
        label: `${f.order}/${f.no} ${f.description}`,
        amount,
        why: "received, not invoiced",
        droppable: true,
        ...(rate === null ? { leftOut: `no rate from ${f.currency} is known` } : {}),
        explanation: {
          title: `${f.order}/${f.no}`,
          steps: [
            {
              label: "Received less invoiced, of ordered",
              text: `${Number(f.received - f.invoiced) / 1000} of ${Number(f.quantity) / 1000}`,
            },
            { label: "At order price", amount, total: true },
          ],
        },
      };
    });
    const drafts = [...groups].map(([name, lines]): JournalDraft => ({
      company: company.code,
      type: "purchase",
      book: null,
      date: period.end,
      description: `Received, not invoiced: ${name}`.slice(0, 200),
      reverseOn: addDays(period.end, 1),
      lines,
    }));
    return ok({
      company: company.code,
      yearId: period.yearId,
      date: period.end,
      title: `Accrual of receipts to ${dateText(period.end)}, ${company.name}`,
      items,
      drafts,
      warnings: ["Each journal is reversed on the first day of the next period."],
      figures: [
        {
          label: "Accrued",
          amount: minor(
            drafts.reduce(
              (t, d) => t + d.lines.reduce((s, l) => (l.side === "debit" ? s + l.amount : s), 0n),
              0n,
            ),
          ),
        },
      ],
    });
  },
});
