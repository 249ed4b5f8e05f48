import { sql, type SQL } from "drizzle-orm";
import type { AssetAccounts, AssetChange, AssetHistory, AssetPlace } from "@/core/assets";
import { minor, type CalendarDate } from "@/core/shared";
import { rows, type Db } from "../../db";

/** An asset with all that its depreciation rests on. */
export interface AssetFacts {
  id: number;
  number: string;
  title: string;
  className: string;
  accounts: AssetAccounts;
  places: AssetPlace[];
  history: AssetHistory;
  /** What was charged in the month before, by book. */
  lastMonth: ReadonlyMap<number, bigint>;
}

/** Which assets: of a company, in the order of their identities, behind one. */
export const assetsBehind = (companyId: number, after: number, limit: number): SQL =>
  sql`a.document_id in (select x.document_id from asset x join document d on d.id = x.document_id
    where x.company_id = ${companyId} and x.document_id > ${after} and d.status = 'active'
    order by x.document_id limit ${limit})`;
export const assetWith = (id: number): SQL => sql`a.document_id = ${id}`;

interface Row {
  id: number;
  number: string;
  title: string;
  className: string;
  accounts: AssetAccounts;
  rules: AssetHistory["rules"];
  inService: CalendarDate;
  places: AssetPlace[];
  costs: { book: number; on: CalendarDate; amount: string }[];
  takenOver: { book: number; on: CalendarDate; amount: string }[];
  accumulated: { book: number; amount: string; last: CalendarDate | null; month: string }[];
  changes: { book: number; kind: string; on: CalendarDate; content: object }[];
}

/** Reads them in one statement; sums are the database's. `month` is the first day of the one before. */
export async function loadFacts(
  tx: Db,
  which: SQL,
  month: { first: CalendarDate; last: CalendarDate },
): Promise<AssetFacts[]> {
  const found = await rows<Row>(
    tx,
    sql`with chosen as materialized (
        select a.document_id as id, d.number, d.title, c.name as "className", c.accounts, a.rules,
          a.in_service as "inService"
        from asset a join document d on d.id = a.document_id
          join asset_class c on c.id = a.class_id where ${which}),
      cost as (
        select e.asset_id as id, e.book_id as book, coalesce(e.counts_from, e.date) as on,
          sum(e.amount) as amount
        from asset_entry e where e.asset_id = any(array(select id from chosen))
          and e.part = 'cost' and e.movement <> 'retirement' group by 1, 2, 3
        having sum(e.amount) <> 0),
      taken as (
        select e.asset_id as id, e.book_id as book, e.date as on, -sum(e.amount) as amount
        from asset_entry e where e.asset_id = any(array(select id from chosen))
          and e.part = 'accumulated' and e.movement = 'taken over' group by 1, 2, 3),
      stands as (
        select e.asset_id as id, e.book_id as book, -sum(e.amount) as amount,
          max(e.date) filter (where e.movement = 'charge' and not exists (
            select 1 from journal r where r.reverses_id = e.journal_id)
            and not exists (select 1 from journal o where o.id = e.journal_id
              and o.reverses_id is not null)) as last,
          coalesce(-sum(e.amount) filter (where e.movement = 'charge'
            and e.date between ${month.first} and ${month.last}), 0) as month
        from asset_entry e where e.asset_id = any(array(select id from chosen))
          and e.part = 'accumulated' group by 1, 2),
      change as (
        select h.asset_id as id, h.book_id as book, h.kind, h.on, h.content, h.id as place
        from asset_change h join chosen x on x.id = h.asset_id
        where h.undoes is null and not exists (
          select 1 from asset_change u where u.undoes = h.id)),
      place as (
        select p.asset_id as id, p.from, p.dimensions
        from asset_place p join chosen x on x.id = p.asset_id)
select x.id::int as id, x.number, x.title, x."className", x.accounts, x.rules, x."inService",
        coalesce(p.list, '[]') as places, coalesce(c.list, '[]') as costs,
        coalesce(t.list, '[]') as "takenOver", coalesce(s.list, '[]') as accumulated,
        coalesce(h.list, '[]') as changes
      from chosen x
        left join (select id, json_agg(json_build_object('from', place.from,
          'dimensions', dimensions) order by place.from) as list from place group by id) p using (id)
        left join (select id, json_agg(json_build_object('book', book, 'on', cost.on,
          'amount', amount::text) order by cost.on, book) as list from cost group by id) c using (id)
        left join (select id, json_agg(json_build_object('book', book, 'on', taken.on,
          'amount', amount::text) order by taken.on, book) as list from taken group by id) t
          using (id)
        left join (select id, json_agg(json_build_object('book', book, 'amount', amount::text,
          'last', last, 'month', month::text) order by book) as list from stands group by id) s
          using (id)
        left join (select id, json_agg(json_build_object('book', book, 'kind', kind,
          'on', change.on, 'content', content) order by change.on, place) as list
          from change group by id) h using (id)
      order by x.id`,
  );
  return found.map(factsOf);
}

function factsOf(row: Row): AssetFacts {
  const amounts = (list: Row["costs"]) =>
    list.map(({ book, on, amount }) => ({ book, on, amount: minor(BigInt(amount)) }));
  return {
    id: row.id,
    number: row.number,
    title: row.title,
    className: row.className,
    accounts: row.accounts,
    places: row.places,
    lastMonth: new Map(row.accumulated.map((a) => [a.book, BigInt(a.month)])),
    history: {
      inService: row.inService,
      rules: row.rules,
      costs: amounts(row.costs),
      takenOver: amounts(row.takenOver),
      accumulated: row.accumulated.map(({ book, amount, last }) => ({
        book,
        last,
        amount: minor(BigInt(amount)),
      })),
      changes: row.changes.map(changeOf),
    },
  };
}

function changeOf({ book, kind, on, content }: Row["changes"][number]): AssetChange {
  const said = { book, on, kind, ...content } as Record<string, unknown>;
  if (kind !== "retired") return said as AssetChange;
  const { n, d } = content as { n: string; d: string };
  return { book, on, kind, share: { n: BigInt(n), d: BigInt(d) } };
}
