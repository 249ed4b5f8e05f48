import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  booksApart,
  fullyChargedBy,
  plannedCharges,
  ruleText,
  standingOn,
  valuationOf,
  type EntryPart,
  type Movement,
} from "@/core/assets";
import {
  addMonths,
  fail,
  isCalendarDate,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { loadYears } from "../../organisation";
import { assetWith, loadFacts } from "../depreciation/loadFacts";

/** An asset in one book on a day. */
export interface AssetInBook {
  /** Null for all books. */
  book: string | null;
  rule: string;
  cost: Minor;
  accumulated: Minor;
  carried: Minor;
  residual: Minor;
  /** By when everything is charged. */
  until: CalendarDate | null;
  /** What is charged from now on, by month, and what it is carried at then. */
  plan: { month: string; charge: Minor; carried: Minor }[];
}
export interface AssetMovement {
  id: number;
  date: CalendarDate;
  part: EntryPart;
  movement: Movement;
  book: string | null;
  amount: Minor;
  account: string;
  journal: { id: number; number: string } | null;
  run: { id: number; number: string; kind: string } | null;
  /** The paper that its cost comes from. */
  source: { id: number; kind: string; number: string; partner: string; text: string } | null;
}
export interface NamedAsset {
  id: number;
  number: string;
  description: string;
}
export interface AssetView {
  id: number;
  number: string;
  status: string;
  company: string;
  currency: string;
  description: string;
  className: string;
  classCode: string;
  inService: CalendarDate;
  quantity: string;
  unit: string;
  serial: string;
  warrantyTo: CalendarDate | null;
  insurance: string;
  note: string;
  version: number;
  /** The asset that it is a part of, and its own parts. */
  main: NamedAsset | null;
  parts: NamedAsset[];
  places: {
    from: CalendarDate;
    place: string;
    person: string;
    dimensions: Record<string, string>;
  }[];
  books: AssetInBook[];
  movements: AssetMovement[];
  mayChange: boolean;
}

/** An asset whole: what it is in each book on a day, what is planned, and all that has moved it. */
export const getAsset = defineUseCase({
  name: "getAsset",
  kind: "read",
  rights: ["read.assets"],
  what: "see assets",
  of: "checked",
  schema: object({ key: string().required().max(40), on: string().required() }),
  run: async (context, { key, on }): Promise<Result<AssetView>> => {
    const { tx, masters, may } = context;
    if (!isCalendarDate(on)) return fail({ code: "DATE_INVALID", text: on, field: "on" });
    const [found] = await rows<
      Omit<AssetView, "company" | "currency" | "books" | "movements" | "mayChange"> & {
        companyId: number;
      }
    >(
      tx,
      sql`select d.id::int as id, d.number, d.status, d.title as description, c.name as "className",
          c.code as "classCode", a.in_service as "inService", a.company_id as "companyId",
          trim(to_char(a.quantity / 1000.0, 'FM999999990.###'), '.') as quantity, a.unit, a.serial,
          a.warranty_to as "warrantyTo", a.insurance, a.note, a.version,
          (select json_build_object('id', m.id, 'number', m.number, 'description', m.title)
            from document m where m.id = a.main_id) as main,
          (select coalesce(json_agg(json_build_object('id', m.id, 'number', m.number,
              'description', m.title) order by m.number), '[]')
            from asset x join document m on m.id = x.document_id
            where x.main_id = a.document_id) as parts,
          (select coalesce(json_agg(json_build_object('from', p.from, 'place', p.place,
            'person', p.person, 'dimensions', p.dimensions) order by p.from), '[]')
            from asset_place p where p.asset_id = d.id) as places
        from asset a join document d on d.id = a.document_id join asset_class c on c.id = a.class_id
        where ${/^\d{1,15}$/.test(key) ? sql`d.id = ${key}::bigint` : sql`d.number = ${key}`}`,
    );
    const company = found && masters.companyById.get(found.companyId);
    if (!found || !company) return fail({ code: "NOT_FOUND", what: `asset ${key.slice(0, 40)}` });
    if (!may("read.assets", company.code))
      return fail({ code: "FORBIDDEN", what: `see assets of ${company.name}` });
    const { companyId: _id, ...asset } = found;
    return ok({
      ...asset,
      company: company.code,
      currency: company.currency,
      books: await booksOf(context, asset.id, company.id, on),
      movements: await movementsOf(context, asset.id),
      mayChange: asset.status === "active" && may("prepare.assets", company.code),
    });
  },
});

/** At most so many months of a plan are shown. */
const MONTHS_AHEAD = 720;

async function booksOf(
  { tx, masters }: Context,
  id: number,
  companyId: number,
  on: CalendarDate,
): Promise<AssetInBook[]> {
  const first = `${on.slice(0, 7)}-01`;
  const [facts] = await loadFacts(tx, assetWith(id), { first, last: on });
  const years = (await loadYears(tx, [companyId])).map((y) => ({ first: y.start, last: y.end }));
  const stands = await rows<{ book: number; cost: bigint; accumulated: bigint }>(
    tx,
    sql`select book_id as book, coalesce(sum(amount) filter (where part = 'cost'), 0)::bigint as cost,
        -coalesce(sum(amount) filter (where part = 'accumulated'), 0)::bigint as accumulated
      from asset_entry where asset_id = ${id} and date <= ${on} group by 1`,
  );
  const books = masters.books.map(({ id: bookId, code }) => ({ id: bookId, code }));
  return [null, ...booksApart(facts!.history, books)].map((book): AssetInBook => {
    const own = stands.filter((s) => s.book === 0 || s.book === book?.id);
    const cost = minor(own.reduce((t, s) => t + s.cost, 0n));
    const accumulated = minor(own.reduce((t, s) => t + s.accumulated, 0n));
    const valuation = valuationOf(facts!.history, book);
    const until = fullyChargedBy(valuation, years);
    const standing = standingOn(valuation, on, years);
    const from = addMonths(first, 1);
    const last = until ?? addMonths(from, 60);
    const furthest = addMonths(from, MONTHS_AHEAD);
    return {
      book: book?.code ?? null,
      rule: ruleText(standing.basis.rule),
      cost,
      accumulated,
      carried: minor(cost - accumulated),
      residual: standing.residual,
      until,
      plan: plannedCharges(valuation, from, last < furthest ? last : furthest, years),
    };
  });
}

async function movementsOf({ tx, masters }: Context, id: number): Promise<AssetMovement[]> {
  const found = await rows<{
    id: number;
    date: CalendarDate;
    part: EntryPart;
    movement: Movement;
    book: number;
    amount: bigint;
    account: string;
    journalId: number | null;
    journal: string | null;
    runId: number | null;
    run: string | null;
    runKind: string | null;
    sourceId: number | null;
    sourceKind: string | null;
    source: string | null;
    partner: string | null;
    text: string | null;
  }>(
    tx,
    sql`select e.id::int as id, e.date, e.part, e.movement, e.book_id as book, e.amount,
        a.number as account, j.id::int as "journalId", j.number as journal,
        r.id::int as "runId", r.number as run, r.type as "runKind",
        coalesce(o.id, b.id)::int as "sourceId", coalesce(o.kind, 'journal') as "sourceKind",
        coalesce(o.number, b.number) as source, p.name as partner, l.description as text
      from asset_entry e join account a on a.id = e.account_id
        left join journal j on j.id = e.journal_id
        left join document r on r.id = e.run_id
        left join asset_intake i on i.id = e.intake_id
        left join journal b on b.id = i.journal_id
        left join journal_line l on l.journal_id = i.journal_id and l.line_no = i.line_no
        left join document o on o.id = b.origin_id
        left join partner p on p.id = o.partner_id
      where e.asset_id = ${id} and (e.amount <> 0 or e.movement = 'taken over')
      order by e.date, e.id`,
  );
  return found.map((f) => ({
    id: f.id,
    date: f.date,
    part: f.part,
    movement: f.movement,
    book: f.book === 0 ? null : masters.bookById.get(f.book)!.code,
    amount: minor(f.amount),
    account: f.account,
    journal: f.journalId === null ? null : { id: f.journalId, number: f.journal! },
    run: f.runId === null ? null : { id: f.runId, number: f.run!, kind: f.runKind! },
    source:
      f.sourceId === null
        ? null
        : {
            id: f.sourceId,
            kind: f.sourceKind!,
            number: f.source!,
            partner: f.partner ?? "",
            text: f.text ?? "",
          },
  }));
}
