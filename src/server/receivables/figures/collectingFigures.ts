import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { daysByCountBack, daysSalesOutstanding, type SalesOf } from "@/core/receivables";
import {
  addDays,
  dayField,
  daysBetween,
  endOfMonth,
  fail,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { promiseSums } from "../desk/deskFacts";

/** A month of selling and collecting; its end, or the day where that comes before. */
export interface CollectingMonth {
  month: string;
  ends: CalendarDate;
  /** Invoices less credit notes, with their taxes. */
  sales: Minor;
  open: Minor;
  /** In tenths of a day; null where nothing was sold, or more is open than a year's sales. */
  dso: bigint | null;
  countBack: bigint | null;
  /** By what was paid in the month, weighted; null where nothing was. */
  daysLate: number | null;
}

export interface CollectorRow {
  collector: string;
  customers: number;
  open: Minor;
  overdue: Minor;
  /** Settled in the last 30 days. */
  collected: Minor;
  promises: number;
  kept: number;
}

export interface LargestRow {
  code: string;
  name: string;
  open: Minor;
}

export interface CollectingFigures {
  currency: string;
  on: CalendarDate;
  /** What is open: the sum of all items, which is the control account's balance. */
  open: Minor;
  months: CollectingMonth[];
  collectors: CollectorRow[];
  largest: LargestRow[];
}

/** The simple ratio looks at so many months, counting back at all. */
const SIMPLE = 3;
const MONTHS = 12;
const COLLECTED_FOR = 30;
const LARGEST = 10;

/** How long customers take, who collects with what result, and on whom it all rests. */
export const collectingFigures = defineUseCase({
  name: "collectingFigures",
  kind: "read",
  rights: ["read.receivables"],
  what: "see figures of collecting",
  company: (i) => i.company,
  schema: object({ company: string().required(), on: dayField().required("The day is missing") }),
  run: async (context, input): Promise<Result<CollectingFigures>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const on = input.on!;
    const months = await monthsUpTo(context, company.id, on);
    return ok({
      currency: company.currency,
      on,
      open: months.at(-1)!.open,
      months: months.slice(-MONTHS),
      collectors: await collectorsOf(context, company.id, on),
      largest: await largestOf(context, company.id, on),
    });
  },
});

/** Months of the year before a day and of the year before that, which counting back goes into. */
async function monthsUpTo(
  { tx }: Context,
  companyId: number,
  on: CalendarDate,
): Promise<CollectingMonth[]> {
  const found = await rows<{
    month: string;
    sales: bigint;
    moved: bigint;
    late: number | null;
  }>(
    tx,
    sql`with item as (select i.id, i.date, i.due_date, i.kind, i.amount, i.functional
          from open_item i where i.company_id = ${companyId} and i.area = 'receivables'
            and i.date <= ${on}),
        made as (select to_char(date, 'YYYY-MM') as month, sum(functional) as moved,
            sum(functional) filter (where kind in ('invoice', 'credit note')) as sales
          from item group by 1),
        taken as (select to_char(a.date, 'YYYY-MM') as month, sum(l.functional) as moved,
            round(sum((a.date - i.due_date) * l.functional) filter (where l.functional > 0
                and i.kind = 'invoice' and i.amount > 0 and w.journal_id is null)
              / nullif(sum(l.functional) filter (where l.functional > 0 and i.kind = 'invoice'
                and i.amount > 0 and w.journal_id is null), 0))::int as late
          from allocation_line l join item i on i.id = l.item_id
            join allocation a on a.id = l.allocation_id
            left join write_off w on w.journal_id = a.journal_id
          where a.date <= ${on} group by 1)
      select coalesce(m.month, t.month) as month, coalesce(m.sales, 0)::bigint as sales,
        (coalesce(m.moved, 0) - coalesce(t.moved, 0))::bigint as moved, t.late
      from made m full join taken t on t.month = m.month order by 1`,
  );
  const byMonth = new Map(found.map((f) => [f.month, f]));
  const first = monthBefore(on, 2 * MONTHS - 1);
  let open = found.filter((f) => f.month < first).reduce((t, f) => t + f.moved, 0n);
  const list: CollectingMonth[] = [];
  const sold: SalesOf[] = [];
  for (let back = 2 * MONTHS - 1; back >= 0; back--) {
    const month = monthBefore(on, back);
    const end = endOfMonth(`${month}-01`);
    const ends = end < on ? end : on;
    const own = byMonth.get(month);
    open += own?.moved ?? 0n;
    sold.unshift({ sales: own?.sales ?? 0n, days: daysBetween(`${month}-01`, ends) + 1 });
    list.push({
      month,
      ends,
      sales: minor(own?.sales ?? 0n),
      open: minor(open),
      dso: daysSalesOutstanding(open, sold.slice(0, SIMPLE)),
      countBack: daysByCountBack(open, sold.slice(0, MONTHS)),
      daysLate: own?.late ?? null,
    });
  }
  return list;
}

/** The month so many before that of a day. */
function monthBefore(on: CalendarDate, back: number): string {
  const at = Number(on.slice(0, 4)) * 12 + Number(on.slice(5, 7)) - 1 - back;
  return `${Math.floor(at / 12)}-${String((at % 12) + 1).padStart(2, "0")}`;
}

async function collectorsOf(
  { tx }: Context,
  companyId: number,
  on: CalendarDate,
): Promise<CollectorRow[]> {
  const found = await rows<{
    collector: string;
    customers: number;
    open: bigint;
    overdue: bigint;
    collected: bigint;
    promises: number;
    kept: number;
  }>(
    tx,
    sql`with taken as (select l.item_id, sum(l.functional) as functional,
            sum(l.functional) filter (where a.date > ${addDays(on, -COLLECTED_FOR)}
              and w.journal_id is null) as lately
          from allocation_line l join allocation a on a.id = l.allocation_id
            left join allocation o on o.id = a.undoes_id
            left join write_off w on w.journal_id = coalesce(o.journal_id, a.journal_id)
          where a.company_id = ${companyId} and a.date <= ${on} group by l.item_id),
        item as (select i.partner, i.due_date, i.kind, i.functional - coalesce(t.functional, 0) as left,
            case when i.kind = 'invoice' then coalesce(t.lately, 0) else 0 end as lately
          from open_item i left join taken t on t.item_id = i.id
          where i.company_id = ${companyId} and i.area = 'receivables' and i.date <= ${on}),
        promised as (select s.partner, count(*)::int as promises,
            count(*) filter (where s.paid >= s.amount)::int as kept
          from (${promiseSums(companyId)}) s where not s.withdrawn and s.due < ${on}
            and s.due >= ${addDays(on, -365)} group by s.partner),
        sums as (select i.partner, sum(i.left)::bigint as open,
            coalesce(sum(i.left) filter (where i.due_date < ${on}), 0)::bigint as overdue,
            sum(i.lately)::bigint as collected from item i group by i.partner)
      select coalesce(n.name, '') as collector, count(*) filter (where s.open <> 0)::int as customers,
        sum(s.open)::bigint as open, sum(s.overdue)::bigint as overdue,
        sum(s.collected)::bigint as collected, coalesce(sum(m.promises), 0)::int as promises,
        coalesce(sum(m.kept), 0)::int as kept
      from sums s left join partner p on p.code = s.partner
        left join person n on n.login = p.collector left join promised m on m.partner = s.partner
      group by 1 order by sum(s.open) desc`,
  );
  return found.map((f) => ({
    ...f,
    open: minor(f.open),
    overdue: minor(f.overdue),
    collected: minor(f.collected),
  }));
}

async function largestOf(
  { tx }: Context,
  companyId: number,
  on: CalendarDate,
): Promise<LargestRow[]> {
  const found = await rows<{ code: string; name: string; open: bigint }>(
    tx,
    sql`with taken as (select l.item_id, sum(l.functional) as functional from allocation_line l
          join allocation a on a.id = l.allocation_id
          where a.company_id = ${companyId} and a.date <= ${on} group by l.item_id)
      select i.partner as code, coalesce(min(p.name), i.partner) as name,
        sum(i.functional - coalesce(t.functional, 0))::bigint as open
      from open_item i left join taken t on t.item_id = i.id
        left join partner p on p.code = i.partner
      where i.company_id = ${companyId} and i.area = 'receivables' and i.date <= ${on}
      group by i.partner having sum(i.functional - coalesce(t.functional, 0)) > 0
      order by 3 desc, 1 limit ${LARGEST}`,
  );
  return found.map((f) => ({ ...f, open: minor(f.open) }));
}
