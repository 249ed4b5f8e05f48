import { sql, type SQL } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { AGED_FROM, bucketNames, DEFAULT_BUCKETS, type AgedFrom } from "@/core/openItems";
import {
  addDays,
  fail,
  isCurrency,
  minor,
  ok,
  readInstant,
  type Minor,
  type Result,
} from "@/core/shared";
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
  /** What the ages are counted from. */
  by: AgedFrom;
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
    by: string().oneOf(AGED_FROM).default("due"),
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
      columns: bucketNames(buckets, input.by),
      by: input.by,
      buckets,
      currencies: (
        await rows<{ currency: string }>(
          context.tx,
          sql`select distinct currency from coding_balance
            where company_id = ${company.id} and account_id = any(${arrayOf(ids)}::int[])
            order by 1`,
        )
      ).map((c) => c.currency),
      rows: list,
      totals: bucketNames(buckets, input.by).map((_, i) => sumOf((r) => r.buckets[i]!)),
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
  by: AgedFrom;
  buckets: readonly number[];
  currency: string | null;
}

/** What was taken of items after a day, or was not known at an instant: it is added to what is left. */
const takenSince = ({ on, asKnown }: AgedBy): SQL =>
  asKnown
    ? sql`(a.date > ${on} or a.made_at > ${readInstant(asKnown)!.toISOString()})`
    : sql`a.date > ${on}`;

/**
 * Sums by partner and age, added up by the database: what is left of an item on a day is what is left
 * of it now and what was taken of it since. What was taken since is added as rows of its own, for of
 * most items nothing was.
 */
async function agedSums(context: Context, companyId: number, of: AgedBy): Promise<AgeingRow[]> {
  const { on, asKnown, area, buckets, currency } = of;
  const { tx } = context;
  const seq = asKnown ? await seqAt(tx, companyId, readInstant(asKnown)!) : null;
  const own = currency === null ? sql`functional` : sql`amount`;
  const value = currency === null ? sql`i.left_functional` : sql`i.left_amount`;
  const sign = area === "payables" ? -1n : 1n;
  const day = of.by === "due" ? sql`i.due_date` : sql`i.date`;
  const wanted = sql`i.company_id = ${companyId} and i.area = ${area} and i.date <= ${on}
    ${seq === null ? sql`` : sql`and i.seq <= ${seq}`}
    ${currency === null ? sql`` : sql`and i.currency = ${currency}`}`;
  const isOpen = (amount: SQL, functional: SQL) => sql`(${amount} <> 0 or ${functional} <> 0)`;
  const open = isOpen(sql`i.left_amount`, sql`i.left_functional`);
  // What is due on a day or later, by the last day of each column: each holds those before it. Days
  // are compared, not counted, and one text a row is read faster than a list.
  const younger = sql.join(
    [on, ...buckets.map((last) => addDays(on, -last))].map(
      (from) => sql`coalesce(sum(x.value) filter (where x.day >= ${from}), 0)::bigint`,
    ),
    sql`, `,
  );
  const found = await rows<{ partner: string; name: string; sums: string; items: number }>(
    tx,
    sql`with since as (select l.item_id, sum(l.amount)::bigint as amount,
            sum(l.functional)::bigint as functional
          from allocation a join allocation_line l on l.allocation_id = a.id
          where a.company_id = ${companyId} and ${takenSince(of)} group by l.item_id),
        parts as (select i.partner, ${day} as day, ${value} as value, 1 as items
            from open_item i where ${wanted} and ${open}
          union all select i.partner, ${day}, s.${own},
              ${isOpen(
                sql`i.left_amount + s.amount`,
                sql`i.left_functional + s.functional`,
              )}::int - ${open}::int
            from since s join open_item i on i.id = s.item_id where ${wanted}),
        sums as (select x.partner, sum(x.items)::int as items, concat_ws(' ', ${younger},
            sum(x.value)::bigint) as sums
          from parts x group by x.partner having sum(x.items) > 0)
      select s.*, coalesce(p.name, s.partner) as name
        from sums s left join partner p on p.code = s.partner`,
  );
  const held =
    area === "receivables" ? await heldBack(context, companyId, of) : new Map<string, Held>();
  return found
    .map((f): AgeingRow => {
      const upTo = f.sums.split(" ").map((b) => sign * BigInt(b));
      const sums = upTo.map((b, n) => minor(n === 0 ? b : b - upTo[n - 1]!));
      const { disputed = minor(0n), promised = minor(0n) } = held.get(f.partner) ?? {};
      return {
        partner: f.partner,
        name: f.name,
        buckets: sums,
        total: minor(upTo.at(-1)!),
        disputed,
        promised,
        items: f.items,
      };
    })
    .sort((a, b) => (a.name < b.name ? -1 : 1));
}

interface Held {
  disputed: Minor;
  promised: Minor;
}

/**
 * What of customers' items stood in dispute on a day, and was promised for a day not gone by: no more
 * than was left of each, a dispute before a promise. By customer.
 */
async function heldBack(
  { tx }: Context,
  companyId: number,
  of: AgedBy,
): Promise<ReadonlyMap<string, Held>> {
  const { on, asKnown, currency } = of;
  const instant = asKnown ? readInstant(asKnown)!.toISOString() : null;
  const known = (at: SQL) => (instant ? sql`and ${at} <= ${instant}` : sql``);
  const part = (amount: SQL) =>
    currency === null ? sql`round(x.functional::numeric * ${amount} / x."left")` : amount;
  const found = await rows<{ partner: string; disputed: bigint; promised: bigint }>(
    tx,
    sql`with held as (select h.item_id, sum(h.disputed) as disputed, sum(h.promised) as promised from (
          select d.item_id, d.amount as disputed, 0 as promised from dispute d
            where d.company_id = ${companyId} and d.opened_on <= ${on} ${known(sql`d.opened_at`)}
              and (d.closed_on is null or d.closed_on > ${on}
                ${instant ? sql`or d.closed_at > ${instant}` : sql``})
          union all select q.item_id, 0, greatest(0, q.amount - s.settled)
            from promise r join promise_item q on q.promise_id = r.id
              cross join lateral (select coalesce(sum(t.amount), 0) as settled
                from allocation_line t join allocation a on a.id = t.allocation_id
                where t.item_id = q.item_id and a.id > r.after and a.date <= ${on}
                  ${known(sql`a.made_at`)}) s
            where r.company_id = ${companyId} and r.made_on <= ${on} and r.due >= ${on}
              ${known(sql`r.made_at`)} and (r.withdrawn_at is null
                ${instant ? sql`or r.withdrawn_at > ${instant}` : sql``})) h
          group by h.item_id),
        item as (select i.partner, h.disputed, h.promised, i.left_amount + t.amount as "left",
            i.left_functional + t.functional as functional
          from held h join open_item i on i.id = h.item_id
            cross join lateral (select coalesce(sum(l.amount), 0) as amount,
              coalesce(sum(l.functional), 0) as functional from allocation_line l
              join allocation a on a.id = l.allocation_id
              where l.item_id = i.id and ${takenSince(of)}) t
          where i.date <= ${on} ${currency === null ? sql`` : sql`and i.currency = ${currency}`}),
        x as (select i.partner, i."left", i.functional, least(i.disputed, i."left") as disputed,
            least(i.promised, greatest(i."left" - i.disputed, 0)) as promised
          from item i where i."left" > 0)
      select x.partner, sum(${part(sql`x.disputed`)})::bigint as disputed,
        sum(${part(sql`x.promised`)})::bigint as promised from x group by x.partner`,
  );
  return new Map(
    found.map((f) => [f.partner, { disputed: minor(f.disputed), promised: minor(f.promised) }]),
  );
}
