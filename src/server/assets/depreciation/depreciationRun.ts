import { sql } from "drizzle-orm";
import { object, string, type InferType } from "yup";
import {
  basisText,
  byUse,
  chargesOf,
  chargeText,
  type BookRef,
  type Charge,
  type FiscalSpan,
} from "@/core/assets";
import { readCoding, type JournalDraft, type Masters } from "@/core/ledger";
import type { Explanation, RunItem, Step } from "@/core/runs";
import {
  addMonths,
  dateText,
  describeFound,
  endOfMonth,
  fail,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import type { Context } from "../../access";
import { rows } from "../../db";
import { loadPeriods, loadYears } from "../../organisation";
import { defineRunInParts, releaseItems } from "../../runs";
import { assetsBehind, assetWith, loadFacts, type AssetFacts } from "./loadFacts";

const schema = object({
  company: string().required(),
  period: string().required("The period is missing"),
});
type Params = InferType<typeof schema>;

/** So many assets are computed at once. */
const AT_ONCE = 2000;

/** What is kept of an item for its journals. */
interface ChargeDetail {
  /** The asset, which is opened from the item. */
  document: number;
  /** The book's identity; 0 for all. */
  book: number;
  accumulated: string;
  charge: string;
  parts: { dimensions: Readonly<Record<string, string>>; amount: string }[];
}

/**
 * Depreciation of a company up to the end of a period: each asset by the rule of all books, and
 * what a book of its own rule has more or less; one journal for all books and one for each of those.
 */
export const depreciationRun = defineRunInParts({
  id: "depreciation",
  right: "post.assets",
  approved: "by rules",
  schema,
  parts: {
    async begin(context, params) {
      const place = await placeOf(context, params);
      if (!place.ok) return place;
      const { company, period } = place.value;
      const [found] = await rows<{ size: number }>(
        context.tx,
        sql`select count(*)::int as size from asset a join document d on d.id = a.document_id
          where a.company_id = ${company.id} and d.status = 'active'
            and a.in_service <= ${period.end}`,
      );
      if (found!.size === 0)
        return fail({
          code: "NOT_FOUND",
          what: `asset of ${company.name} that was in use by ${dateText(period.end)}`,
          field: "period",
        });
      return ok({
        company: company.code,
        yearId: period.yearId,
        date: period.end,
        title: `Depreciation to ${dateText(period.end)}, ${company.name}`,
        size: found!.size,
      });
    },
    async stand(context, params) {
      const place = await placeOf(context, params);
      if (!place.ok) return "";
      const { id } = place.value.company;
      const [found] = await rows<{ stand: string }>(
        context.tx,
        sql`select concat_ws('.', (select count(*) || ' ' || coalesce(sum(a.version), 0)
              || ' ' || coalesce(max(a.document_id), 0) from asset a where a.company_id = ${id}),
            (select max(e.id) from asset_entry e where e.company_id = ${id}
              and e.asset_id is not null),
            (select max(h.id) from asset_change h),
            (select max(p.made_at) from asset_place p),
            (select md5(string_agg(c.accounts::text, ';' order by c.id)) from asset_class c))
          as stand`,
      );
      return found!.stand;
    },
    async part(context, params, overrides, after) {
      const place = await placeOf(context, params);
      if (!place.ok) return place;
      const { company } = place.value;
      const facts = await loadFacts(
        context.tx,
        assetsBehind(company.id, Number(after || "0"), AT_ONCE),
        place.value.before,
      );
      const dropped = new Set(overrides.dropped);
      const items = facts.flatMap((asset) => itemsOf(asset, place.value, dropped));
      const last = facts.length < AT_ONCE ? undefined : facts.at(-1);
      return ok({ items, next: last ? String(last.id) : null });
    },
    async explain(context, params, key): Promise<Explanation> {
      const nothing = { title: "Nothing is left to charge", steps: [] };
      const place = await placeOf(context, params);
      if (!place.ok) return nothing;
      const [id, book] = key.split("|").map(Number) as [number, number];
      const [asset] = await loadFacts(context.tx, assetWith(id), place.value.before);
      const charge =
        asset &&
        chargesOf(asset.history, place.value.books, place.value.period.end, place.value.years).find(
          (c) => (c.book?.id ?? 0) === book,
        );
      return asset && charge ? explanationOf(asset, charge, place.value) : nothing;
    },
    async finish(context, params, run) {
      const place = await placeOf(context, params);
      if (!place.ok) return place;
      const lines = await rows<Line>(
        context.tx,
        sql`select (i.detail->>'book')::int as book, i.detail->>'charge' as account,
            p->'dimensions' as dimensions, sum((p->>'amount')::bigint)::bigint as amount,
            true as expense
          from run_item i, jsonb_array_elements(i.detail->'parts') p
          where i.run_id = ${run} and i.state = 'in' group by 1, 2, 3
          union all
          select (i.detail->>'book')::int, i.detail->>'accumulated', '{}'::jsonb,
            -sum(i.amount)::bigint, false
          from run_item i where i.run_id = ${run} and i.state = 'in' group by 1, 2
          order by 1, 2, 3`,
      );
      const [count] = await rows<{ negative: number; more: number; whole: number }>(
        context.tx,
        sql`select count(*) filter (where amount < 0)::int as negative,
            count(*) filter (where why like '%; more than%')::int as more,
            count(*) filter (where why like '%; then nothing is left%')::int as whole
          from run_item where run_id = ${run} and state = 'in'`,
      );
      return finished(place.value, lines, count!);
    },
    async posted({ tx, person, now }, { id }) {
      await tx.execute(sql`
        insert into asset_entry (company_id, book_id, account_id, asset_id, part, movement, date,
          amount, journal_id, run_id, made_by, made_at)
        select j.company_id, j.book_id, a.id, (i.detail->>'document')::bigint, 'accumulated', 'charge',
          j.date, -i.amount, j.id, ${id}, ${person.id}, ${now.toISOString()}
        from run_item i
          join journal j on j.origin_id = i.run_id and j.book_id = (i.detail->>'book')::int
            and j.reverses_id is null
          join account a on a.number = i.detail->>'accumulated'
        where i.run_id = ${id} and i.state = 'in' and i.amount <> 0 order by i.no`);
      // What is charged counts from here on: the next month can be charged by another run.
      await releaseItems(tx, id);
      return ok({});
    },
  },
});

interface Place {
  masters: Masters;
  company: { id: number; code: string; name: string };
  period: { start: CalendarDate; end: CalendarDate; yearId: number };
  /** The month before. */
  before: { first: CalendarDate; last: CalendarDate };
  books: BookRef[];
  years: FiscalSpan[];
}

async function placeOf({ tx, masters }: Context, params: Params): Promise<Result<Place>> {
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
  const first = addMonths(`${params.period}-01`, -1);
  return ok({
    masters,
    company,
    period,
    before: { first, last: endOfMonth(first) },
    books: masters.books.map(({ id, code }) => ({ id, code })),
    years: (await loadYears(tx, [company.id])).map((y) => ({ first: y.start, last: y.end })),
  });
}

function itemsOf(asset: AssetFacts, place: Place, dropped: ReadonlySet<string>): RunItem[] {
  const { period, books, years, before } = place;
  const charges = chargesOf(asset.history, books, period.end, years);
  const isCharged = charges.some((c) => c.amount !== 0n);
  // The difference of a book rests on what all books are charged: they go together.
  const all = `${asset.id}|0`;
  return charges.flatMap((charge): RunItem[] => {
    if (charge.amount === 0n && (charge.book !== null || isCharged)) return [];
    const key = `${asset.id}|${charge.book?.id ?? 0}`;
    const parts = byUse(charge.amount, asset.places, period.start, period.end);
    const leftOut = whyNot(asset, charge) ?? againstCoding(asset, parts, place);
    const detail: ChargeDetail = {
      document: asset.id,
      book: charge.book?.id ?? 0,
      accumulated: asset.accounts.accumulated,
      charge: asset.accounts.charge,
      parts: parts.map((p) => ({
        dimensions: p.dimensions,
        amount: String(p.amount),
      })),
    };
    return [
      {
        key,
        label: `${asset.number} ${asset.title}`,
        group: charge.book ? `${asset.className}, ${charge.book.code} only` : asset.className,
        amount: charge.amount,
        why: whyOf(asset, charge, before),
        droppable: charge.book === null && charges.length === 1,
        ...(leftOut !== undefined && !dropped.has(all) ? { leftOut } : {}),
        detail,
      },
    ];
  });
}

/** Why nothing is charged, where that is so. */
function whyNot(asset: AssetFacts, charge: Charge): string | undefined {
  if (charge.later) return `it was charged up to ${dateText(charge.later)} already`;
  if (charge.amount !== 0n) return undefined;
  if (charge.standing.basis.rule.method === "none") return "it is not depreciated";
  const { cost, accumulated, residual } = charge.standing;
  if (cost === 0n) return "it costs nothing";
  if (cost - accumulated <= residual) return "it is depreciated as far as it can be";
  return `nothing falls on this time; in use from ${dateText(asset.history.inService)}`;
}

/** What the account of the expense has against who uses the asset: it is left out until that is said. */
function againstCoding(
  asset: AssetFacts,
  parts: readonly { dimensions: Readonly<Record<string, string>> }[],
  { masters, period }: Place,
): string | undefined {
  const account = masters.accountByNumber.get(asset.accounts.charge) ?? null;
  for (const { dimensions } of parts) {
    const [fault] = readCoding(masters, account, dimensions, { date: period.end }).found;
    if (fault) return describeFound(fault).replace(/\.$/, "");
  }
  return undefined;
}

function whyOf(asset: AssetFacts, charge: Charge, before: Place["before"]): string {
  const last = asset.lastMonth.get(charge.book?.id ?? 0) ?? 0n;
  const { cost, accumulated, residual } = charge.standing;
  const more =
    charge.amount > last && last > 0n ? `; more than in ${before.first.slice(0, 7)}` : "";
  const whole =
    charge.amount !== 0n && cost - accumulated === residual ? "; then nothing is left" : "";
  return `${chargeText(charge)}${more}${whole}`.slice(0, 300);
}

function explanationOf(asset: AssetFacts, charge: Charge, { period }: Place): Explanation {
  const { standing, before, common, amount, book } = charge;
  const { basis } = standing;
  const steps: Step[] = [
    { label: "Cost", amount: standing.cost },
    ...(standing.residual === 0n ? [] : [{ label: "Residual value", amount: -standing.residual }]),
    ...(basis.before === 0n
      ? []
      : [{ label: "Charged before the last change", amount: -basis.before }]),
    { label: "Spread", amount: basis.base, total: true },
    { label: "How", text: basisText(basis) },
    { label: `Should be charged by ${dateText(period.end)}`, amount: standing.accumulated },
    { label: book ? `Charged so far in ${book.code}` : "Charged so far", amount: -before },
    ...(common === 0n ? [] : [{ label: "Charged now in all books", amount: -common }]),
    { label: book ? `Charged now in ${book.code} alone` : "Charged now", amount, total: true },
  ];
  return { title: `${asset.number} ${asset.title}`, steps };
}

interface Line {
  book: number;
  account: string;
  dimensions: Record<string, string>;
  amount: bigint;
  /** Whether it is the expense, or what stands against it. */
  expense: boolean;
}

function finished(
  { company, period, books }: Place,
  lines: readonly Line[],
  count: { negative: number; more: number; whole: number },
) {
  const text = `Depreciation ${period.end.slice(0, 7)}`;
  const codeOf = new Map(books.map((b) => [b.id, b.code]));
  const drafts = [...new Set(lines.map((l) => l.book))].map((book): JournalDraft => ({
    company: company.code,
    type: "asset",
    book: book === 0 ? null : codeOf.get(book)!,
    date: period.end,
    description: book === 0 ? text : `${text}, difference in ${codeOf.get(book)}`,
    lines: lines
      .filter((l) => l.book === book && l.amount !== 0n)
      .map((l) => ({
        account: l.account,
        dimensions: l.dimensions,
        description: text,
        side: l.amount > 0n ? ("debit" as const) : ("credit" as const),
        amount: minor(l.amount > 0n ? l.amount : -l.amount),
        listed: true as const,
      })),
  }));
  const posted = drafts.filter((d) => d.lines.length > 0);
  if (posted.length === 0)
    return fail({
      code: "NOT_FOUND",
      what: `charge left for ${company.name} by ${dateText(period.end)}`,
      field: "period",
    });
  const expense = (book: number): Minor =>
    minor(lines.reduce((t, l) => (l.book === book && l.expense ? t + l.amount : t), 0n));
  const say = (n: number, one: string, many: string) =>
    n === 0 ? [] : [n === 1 ? `1 charge ${one}` : `${n} charges ${many}`];
  return ok({
    drafts: posted,
    warnings: [
      ...say(count.negative, "is below nothing.", "are below nothing."),
      ...say(count.more, "is more than the month before.", "are more than the month before."),
      ...say(count.whole, "is the last one of its asset.", "are the last ones of their assets."),
    ],
    figures: [
      { label: "Charged in all books", amount: expense(0) },
      ...books
        .filter((b) => posted.some((d) => d.book === b.code))
        .map((b) => ({ label: `Besides, in ${b.code}`, amount: expense(b.id) })),
    ],
  });
}
