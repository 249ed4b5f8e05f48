import { sql, type SQL } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { bucketNames, DEFAULT_BUCKETS } from "@/core/openItems";
import { fail, isCurrency, minor, ok, readInstant, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { arrayOf, rows } from "../db";
import { seqAt } from "../ledger";
import {
  asOfSchema,
  balanceOn,
  EVER,
  foreignBalanceOn,
  placeOf,
  type AsOf,
  type ItemArea,
} from "./openItems";

export interface AgeingRow {
  partner: string;
  name: string;
  /**
   * By bucket, as the columns say; signed so that what is owed (payables) or due to us
   * (receivables) is positive.
   */
  buckets: Minor[];
  total: Minor;
  /** What of it is in dispute, and what is promised for a day not gone by: parts of the total. */
  disputed: Minor;
  promised: Minor;
  items: number;
}
export interface Ageing {
  currency: string;
  columns: string[];
  /** The last days overdue of the columns, as asked for. */
  buckets: number[];
  /** Currencies in which the area has items here. */
  currencies: string[];
  rows: AgeingRow[];
  totals: Minor[];
  total: Minor;
  disputed: Minor;
  promised: Minor;
  /** The control accounts on the same day, signed alike, and whether both agree. */
  control: Minor;
  accounts: string[];
  agrees: boolean;
  /** What is posted on the accounts for later days: this view leaves it out. */
  afterwards: Minor;
}

/**
 * What is owed by age on a day, for each partner, held against the control accounts. In functional
 * currency.
 */
export const ageing = defineUseCase({
  name: "ageing",
  kind: "read",
  rights: ["read.payables", "read.receivables"],
  what: "see the ageing",
  company: (i) => i.company,
  schema: object({
    ...asOfSchema,
    buckets: array(number().integer().min(1).max(3650).required())
      .max(8)
      .default([...DEFAULT_BUCKETS]),
    currency: string().trim().uppercase(),
    /** By days since the due date, or since the day of the document. */
    by: string()
      .oneOf(["due", "document"] as const)
      .default("due"),
  }),
  run: async (context, input): Promise<Result<Ageing>> => {
    const found = placeOf(context, input);
    if (!found.ok) return found;
    const company = found.value;
    const { masters } = context;
    const buckets = [...new Set(input.buckets)].sort((a, b) => a - b);
    const currency = input.currency || null;
    if (currency !== null && !isCurrency(currency))
      return fail({ code: "CURRENCY_UNKNOWN", currency, field: "currency" });
    const list = await agedSums(context, company.id, { ...input, buckets, currency });
    const sign = input.area === "payables" ? -1n : 1n;
    const sumOf = (pick: (r: AgeingRow) => bigint) => minor(list.reduce((t, r) => t + pick(r), 0n));
    const total = sumOf((r) => r.total);
    const accounts = masters.accounts.filter((a) => a.control === input.area);
    const ids = accounts.map((a) => a.id);
    const control = minor(
      sign *
        (currency === null
          ? await balanceOn(context, company.id, ids, input)
          : await foreignBalanceOn(context, company.id, ids, currency, input)),
    );
    return ok({
      currency: currency ?? company.currency,
      columns: bucketNames(buckets),
      buckets,
      currencies: (
        await rows<{ currency: string }>(
          context.tx,
          sql`select distinct currency from open_item
            where company_id = ${company.id} and area = ${input.area} order by 1`,
        )
      ).map((c) => c.currency),
      rows: list,
      totals: bucketNames(buckets).map((_, i) => sumOf((r) => r.buckets[i]!)),
      total,
      disputed: sumOf((r) => r.disputed),
      promised: sumOf((r) => r.promised),
      control,
      accounts: accounts.map((a) => a.number),
      agrees: control === total,
      afterwards:
        currency === null && !input.asKnown
          ? minor(sign * (await balanceOn(context, company.id, ids, { on: EVER })) - control)
          : minor(0n),
    });
  },
});

interface AgedBy extends Pick<AsOf, "on" | "asKnown"> {
  area: ItemArea;
  by: "due" | "document";
  buckets: readonly number[];
  currency: string | null;
}

/**
 * Sums by partner and age, added up by the database: what is left of an item on a day is what is left
 * of it now and what was taken of it since.
 */
async function agedSums(context: Context, companyId: number, of: AgedBy): Promise<AgeingRow[]> {
  const { on, asKnown, area, buckets, currency } = of;
  const instant = asKnown ? readInstant(asKnown)!.toISOString() : null;
  const seq = instant ? await seqAt(context.tx, companyId, readInstant(asKnown!)!) : null;
  const since = instant ? sql`(a.date > ${on} or a.made_at > ${instant})` : sql`a.date > ${on}`;
  const value = currency === null ? sql`x.left_functional` : sql`x."left"`;
  const sign = area === "payables" ? sql`-1` : sql`1`;
  // The first day of each column behind the first.
  const edges = [1, ...buckets.map((last) => last + 1)];
  const held = area === "receivables" ? heldBack(companyId, on, instant) : null;
  const part = (amount: SQL) =>
    currency === null
      ? sql`case when x."left" = 0 then 0 else
          round(x.left_functional::numeric * ${amount} / x."left") end`
      : amount;
  const found = await rows<{
    partner: string;
    name: string;
    buckets: string[];
    items: number;
    disputed: bigint;
    promised: bigint;
  }>(
    context.tx,
    sql`with since as (select l.item_id, sum(l.amount) as amount, sum(l.functional) as functional
          from allocation a join allocation_line l on l.allocation_id = a.id
          where a.company_id = ${companyId} and ${since} group by l.item_id),
        left_of as (select i.id, i.partner, ${of.by === "due" ? sql`i.due_date` : sql`i.date`} as day,
            i.left_amount + coalesce(s.amount, 0) as "left",
            i.left_functional + coalesce(s.functional, 0) as left_functional
          from open_item i left join since s on s.item_id = i.id
          where i.company_id = ${companyId} and i.area = ${area} and i.date <= ${on}
            ${seq === null ? sql`` : sql`and i.seq <= ${seq}`}
            ${currency === null ? sql`` : sql`and i.currency = ${currency}`}
            and (i.left_amount <> 0 or i.left_functional <> 0 or s.item_id is not null)),
        x as (select l.*, width_bucket((${on}::date - l.day), ${arrayOf(edges)}::int[]) as bucket,
            ${held === null ? sql`0::bigint` : sql`least(coalesce(d.amount, 0), greatest(l."left", 0))`}
              as disputed,
            ${held === null ? sql`0::bigint` : sql`least(coalesce(p.amount, 0), greatest(l."left" - coalesce(d.amount, 0), 0))`}
              as promised
          from left_of l ${held ?? sql``}
          where l."left" <> 0 or l.left_functional <> 0)
      select x.partner, coalesce(min(p.name), x.partner) as name, count(*)::int as items,
        array[${sql.join(
          edges.concat(0).map(
            (_, n) => sql`(${sign} * coalesce(sum(${value}) filter
            (where x.bucket = ${n}::int), 0))::bigint`,
          ),
          sql`, `,
        )}]::text[] as buckets,
        coalesce(sum(${part(sql`x.disputed`)}), 0)::bigint as disputed,
        coalesce(sum(${part(sql`x.promised`)}), 0)::bigint as promised
      from x left join partner p on p.code = x.partner
      group by x.partner order by 2, 1`,
  );
  return found.map((f) => {
    const sums = f.buckets.map((b) => minor(BigInt(b)));
    return {
      partner: f.partner,
      name: f.name,
      buckets: sums,
      total: minor(sums.reduce((t, b) => t + b, 0n)),
      disputed: minor(f.disputed),
      promised: minor(f.promised),
      items: f.items,
    };
  });
}

/** What of customers' items stood in dispute on a day, and was promised for a day not gone by. */
const heldBack = (companyId: number, on: string, instant: string | null): SQL => {
  const known = (at: SQL) => (instant ? sql`and ${at} <= ${instant}` : sql``);
  return sql`left join (select d.item_id, sum(d.amount) as amount from dispute d
      where d.company_id = ${companyId} and d.opened_on <= ${on} ${known(sql`d.opened_at`)}
        and (d.closed_on is null or d.closed_on > ${on}
          ${instant ? sql`or d.closed_at > ${instant}` : sql``}) group by d.item_id) d
    on d.item_id = l.id
  left join (select q.item_id, sum(greatest(0, q.amount - s.settled)) as amount
      from promise r join promise_item q on q.promise_id = r.id
        cross join lateral (select coalesce(sum(t.amount), 0) as settled from allocation_line t
          join allocation a on a.id = t.allocation_id
          where t.item_id = q.item_id and a.id > r.after and a.date <= ${on}
            ${known(sql`a.made_at`)}) s
      where r.company_id = ${companyId} and r.made_on <= ${on} and r.due >= ${on}
        ${known(sql`r.made_at`)} and (r.withdrawn_at is null ${
          instant ? sql`or r.withdrawn_at > ${instant}` : sql``
        })
      group by q.item_id) p
    on p.item_id = l.id`;
};
