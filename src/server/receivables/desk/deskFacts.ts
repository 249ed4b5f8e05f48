import { sql, type SQL } from "drizzle-orm";
import type { CreditGrade } from "@/core/partners";
import { conversionOn, convertBy } from "@/core/rates";
import { BROKEN_FOR, SOLVED_FOR, SOON, type ActionFacts } from "@/core/receivables";
import { addDays, daysBetween, minor, type CalendarDate, type Minor } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { ratesFor } from "../../rates";

/** A company's customer as the desk sees it on a day. Amounts in the company's currency. */
export interface DeskFacts {
  code: string;
  name: string;
  group: string;
  collector: string;
  standIn: string;
  blocks: string[];
  open: Minor;
  /** In the company's currency; null where none is set, or no rate into it is known. */
  limit: Minor | null;
  lastContact: string | null;
  nextStep: string;
  nextOn: CalendarDate | null;
  kept: number;
  promises: number;
  /** The highest level of what is open; 0 for none. */
  level: number;
  facts: ActionFacts;
}

interface Found {
  code: string;
  name: string;
  group: string;
  collector: string;
  standIn: string;
  grade: CreditGrade | "";
  blocks: string[];
  limit: bigint | null;
  creditCurrency: string;
  open: bigint;
  overdue: bigint;
  toCollect: bigint;
  disputed: bigint;
  promised: bigint;
  promisedFor: CalendarDate | null;
  daysLate: number;
  soon: bigint;
  broken: number;
  lastBroken: CalendarDate | null;
  kept: number;
  promises: number;
  level: number;
  solved: CalendarDate | null;
  lastContact: string | null;
  nextStep: string | null;
  nextOn: CalendarDate | null;
  paysNow: number | null;
  paysBefore: number | null;
}

/** Half a year: what was paid in it, and in the one before. */
const HALF_YEAR = 182;

/** What an item would come to in the company's currency, if `part` of it were left. */
const functional = (part: SQL) => sql`case when i.left_amount = ${part} then i.left_functional
  else round(i.left_functional::numeric * ${part} / i.left_amount)::bigint end`;

/**
 * What became of promises: of each, what was promised and what was settled of it by its day, no more
 * of an item than was promised of it.
 */
export const promiseSums = (companyId: number) => sql`select r.id, r.partner, r.due,
    r.withdrawn_at is not null as withdrawn, sum(q.amount) as amount,
    sum(least(q.amount, greatest(0, s.settled))) as paid
  from promise r join promise_item q on q.promise_id = r.id
    cross join lateral (select coalesce(sum(l.amount), 0) as settled from allocation_line l
      join allocation a on a.id = l.allocation_id
      where l.item_id = q.item_id and a.id > r.after and a.date <= r.due) s
  where r.company_id = ${companyId} group by r.id`;

/**
 * Whether a code is one of these or lies among them: for what is joined to their items afterwards,
 * for each row would be compared with each of a thousand codes.
 */
export const nearly = (code: SQL, codes: readonly string[]): SQL => {
  const all = sql`unnest(${arrayOf(codes)}::text[]) c`;
  return sql`${code} between (select min(c) from ${all}) and (select max(c) from ${all})`;
};

/** Open items of customers, with what of each is in dispute, and promised for a day not gone by. */
export const itemStates = (
  companyId: number,
  on: CalendarDate,
  /** Of these customers; of all where none are said. */
  customers: readonly string[] | null = null,
) => sql`select i.id, i.partner, i.reference, i.currency, i.document_id,
    i.due_date, i.left_amount, i.left_functional,
    least(coalesce(d.amount, 0), greatest(i.left_amount, 0)) as disputed,
    least(coalesce(p.amount, 0),
      greatest(i.left_amount - coalesce(d.amount, 0), 0))::bigint as promised,
    p.due as promised_for
  from open_item i
    left join dispute d on d.item_id = i.id and d.outcome is null
    left join (select q.item_id, min(r.due) as due,
        sum(greatest(0, q.amount - s.settled)) as amount
      from promise r join promise_item q on q.promise_id = r.id
        cross join lateral (select coalesce(sum(l.amount), 0) as settled from allocation_line l
          join allocation a on a.id = l.allocation_id
          where l.item_id = q.item_id and a.id > r.after) s
      where r.company_id = ${companyId} and r.withdrawn_at is null and r.due >= ${on}
        ${customers === null ? sql`` : sql`and ${nearly(sql`r.partner`, customers)}`}
      group by q.item_id) p on p.item_id = i.id
  where i.company_id = ${companyId} and i.area = 'receivables' and i.left_amount <> 0
    ${customers === null ? sql`` : sql`and i.partner = any(${arrayOf(customers)}::text[])`}`;

/**
 * What is known of all customers of a company with anything open, or of one of them, on a day: one
 * statement, whatever their number.
 */
export async function deskFacts(
  context: Context,
  company: { id: number; code: string; currency: string },
  on: CalendarDate,
  only: string | null = null,
): Promise<DeskFacts[]> {
  const { tx } = context;
  const due = sql`(i.due_date < ${on} or i.left_amount < 0)`;
  const free = sql`(i.left_amount - i.disputed - i.promised)`;
  const found = await rows<Found>(
    tx,
    sql`with item as (${itemStates(company.id, on, only === null ? null : [only])}),
      sums as (select i.partner, sum(i.left_functional)::bigint as open,
          coalesce(sum(i.left_functional) filter (where ${due}), 0)::bigint as overdue,
          coalesce(sum(${functional(free)}) filter (where ${due}), 0)::bigint as collect,
          coalesce(sum(${functional(sql`i.disputed`)}), 0)::bigint as disputed,
          coalesce(sum(${functional(sql`i.promised`)}), 0)::bigint as promised,
          min(i.promised_for) filter (where i.promised > 0) as promised_for,
          coalesce(max(${on}::date - i.due_date)
            filter (where i.due_date < ${on} and ${free} > 0), 0)::int as days,
          coalesce(max(i.left_functional) filter (where i.due_date >= ${on}
            and i.due_date <= ${addDays(on, SOON)} and i.left_amount > 0), 0)::bigint as soon
        from item i group by i.partner),
      promised as (select s.partner, count(*)::int as promises,
          count(*) filter (where s.paid >= s.amount)::int as kept,
          count(*) filter (where s.paid = 0 and s.due < ${on})::int as broken,
          max(s.due) filter (where s.paid = 0 and s.due < ${on}) as last
        from (${promiseSums(company.id)}) s
        where not s.withdrawn and s.due >= ${addDays(on, -BROKEN_FOR)} group by s.partner),
      solved as (select d.partner, max(d.closed_on) as closed from dispute d
          join open_item i on i.id = d.item_id and i.left_amount <> 0
        where d.company_id = ${company.id} and d.closed_on >= ${addDays(on, -SOLVED_FOR)}
        group by d.partner),
      reminded as (select i.partner, max(x.level) as level from item i
          join letter_item x on x.item_id = i.id join customer_letter c on c.id = x.letter_id
          join document d on d.id = c.run_id and d.status = 'posted' group by i.partner),
      said as (select distinct on (x.partner) x.partner, x.at, x.next_step, x.next_on from (
          select r.partner_id as partner, r.at, r.next_step, r.next_on from remark r
            where r.company_id = ${company.id}
          union all select d.partner_id, r.at, '', null from remark r
            join document d on d.id = r.document_id
            where d.company_id = ${company.id} and d.partner_id is not null) x
        order by x.partner, x.at desc),
      pays as (select i.partner,
          round(sum((a.date - i.due_date) * l.functional) filter (where a.date > ${addDays(on, -HALF_YEAR)})
            / nullif(sum(l.functional) filter (where a.date > ${addDays(on, -HALF_YEAR)}), 0))::int as now,
          round(sum((a.date - i.due_date) * l.functional) filter (where a.date <= ${addDays(on, -HALF_YEAR)})
            / nullif(sum(l.functional) filter (where a.date <= ${addDays(on, -HALF_YEAR)}), 0))::int
            as before
        from allocation a join allocation_line l on l.allocation_id = a.id
          join open_item i on i.id = l.item_id and i.area = 'receivables' and i.kind = 'invoice'
            and i.amount > 0 ${only === null ? sql`` : sql`and i.partner = ${only}`}
        where a.company_id = ${company.id} and a.date > ${addDays(on, -2 * HALF_YEAR)}
          and a.date <= ${on} and l.functional > 0 group by i.partner)
      select p.code, p.name, p.customer_group as "group", p.collector, p.stand_in as "standIn",
        p.grade, p.blocks, p.credit_limit as "limit", p.credit_currency as "creditCurrency",
        s.open, s.overdue, s.collect as "toCollect", s.disputed, s.promised,
        s.promised_for as "promisedFor", s.days as "daysLate", s.soon,
        coalesce(m.broken, 0) as broken, m.last as "lastBroken", coalesce(m.kept, 0) as kept,
        coalesce(m.promises, 0) as promises, coalesce(b.level, 0) as level,
        v.closed as solved, t.at as "lastContact",
        t.next_step as "nextStep", t.next_on as "nextOn", y.now as "paysNow", y.before as "paysBefore"
      from sums s join partner p on p.code = s.partner
        left join promised m on m.partner = s.partner left join solved v on v.partner = s.partner
        left join reminded b on b.partner = s.partner
        left join said t on t.partner = p.id left join pays y on y.partner = s.partner`,
  );
  const limits = await limitsIn(context, company, found);
  return found.map((f, i) => deskOf(f, limits[i]!, on));
}

/** Credit limits in the company's currency; null where none is set, or no rate is known. */
async function limitsIn(
  { tx, masters, today }: Context,
  company: { code: string; currency: string },
  found: readonly Pick<Found, "limit" | "creditCurrency">[],
): Promise<(Minor | null)[]> {
  const currencies = [...new Set(found.flatMap((f) => (f.limit === null ? [] : f.creditCurrency)))];
  const rates = await ratesFor(
    tx,
    masters,
    currencies.map((currency) => ({ companies: [company.code], currency, date: today })),
  );
  return found.map(({ limit, creditCurrency }) => {
    if (limit === null) return null;
    const by = conversionOn(rates, "spot", creditCurrency, company.currency, today);
    return by && convertBy(minor(limit), creditCurrency, company.currency, by);
  });
}

function deskOf(f: Found, limit: Minor | null, on: CalendarDate): DeskFacts {
  const toCollect = minor(f.toCollect > 0n ? f.toCollect : 0n);
  const daysSince = (day: string | null) =>
    day === null ? null : Math.max(0, daysBetween(day.slice(0, 10), on));
  const silentSince = daysSince(f.lastContact);
  return {
    code: f.code,
    name: f.name,
    group: f.group,
    collector: f.collector,
    standIn: f.standIn,
    blocks: f.blocks,
    open: minor(f.open),
    limit,
    lastContact: f.lastContact,
    nextStep: f.nextStep ?? "",
    nextOn: f.nextOn,
    kept: f.kept,
    promises: f.promises,
    level: f.level,
    facts: {
      overdue: minor(f.overdue),
      toCollect,
      disputed: minor(f.disputed),
      promised: minor(f.promised),
      promisedFor: f.promisedFor,
      daysLate: toCollect > 0n ? f.daysLate : 0,
      broken: f.broken,
      lastBroken: daysSince(f.lastBroken),
      grade: f.grade,
      limitUsed: limit === null ? null : usedOf(f.open, limit),
      silent: toCollect > 0n ? Math.min(f.daysLate, silentSince ?? f.daysLate) : null,
      soon: minor(f.soon),
      solved: daysSince(f.solved),
      pays: f.paysNow === null ? null : { now: f.paysNow, before: f.paysBefore },
    },
  };
}

/** How much of a limit is used, in whole per cent, rounded down; of none at all, all of it. */
const usedOf = (open: bigint, limit: bigint): number => {
  if (open <= 0n) return 0;
  return limit === 0n ? 999 : Number((open * 100n) / limit);
};
