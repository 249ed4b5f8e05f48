import { sql } from "drizzle-orm";
import { array, object, string } from "yup";
import { isAll, RETIREMENT_KINDS } from "@/core/assets";
import type { RunItem, Step } from "@/core/runs";
import { amountText, dateText, dayField, fail, minor, ok } from "@/core/shared";
import { arrayOf, rows } from "../../db";
import { setStatus } from "../../documents";
import { defineRunKind, releaseItems, upToDay } from "../../runs";
import { draftsOf } from "./retirementJournals";
import { whatGoes, type Going } from "./whatGoes";

const schema = object({
  company: string().required(),
  date: dayField().required("The day is missing"),
  why: string().oneOf(RETIREMENT_KINDS).default("sold"),
  assets: array()
    .of(
      object({
        number: string().trim().required("Say which asset"),
        /** “all”, “1/2”, “40 %”. */
        share: string().trim().max(20).default("all"),
        /** What was got for it, and the account on which that was booked. */
        proceeds: string().trim().max(40).default(""),
        account: string().trim().max(20).default(""),
      }),
    )
    .min(1, "Choose an asset")
    .max(500)
    .required(),
});

/** What posting needs of an asset that goes. */
interface Gone {
  asset: number;
  accounts: { cost: string; accumulated: string };
  n: string;
  d: string;
  all: boolean;
  books: { book: number; charge: string; cost: string; accumulated: string }[];
}

/**
 * Takes assets, or shares of them, out of the books: charged until they go, cost and accumulated
 * depreciation out, what was got for them against what they were carried at (IAS 16.67 to 72). One
 * journal for all books, and one for each that differs.
 */
export const retirementRun = defineRunKind({
  id: "retirement",
  right: "post.assets",
  approved: "by rules",
  schema,
  async propose(context, params, overrides) {
    const place = await upToDay(context, { company: params.company, upTo: params.date });
    if (!place.ok) return place;
    const { company, yearId } = place.value;
    const going = await whatGoes(context, company, params);
    if (!going.ok) return going;
    const dropped = new Set(overrides.dropped);
    const taken = going.value.filter((g) => !dropped.has(keyOf(g.asset.id)));
    const result = minor(taken.reduce((t, g) => t + g.retired[0]!.result, 0n));
    return ok({
      company: company.code,
      yearId,
      date: params.date,
      title: `Assets ${params.why} on ${dateText(params.date)}, ${company.name}`.slice(0, 200),
      items: going.value.map((g) => itemOf(g, company.currency, dropped)),
      drafts: draftsOf(context.masters, company.code, params, taken),
      warnings: [],
      figures: [
        {
          label: "Carrying amount that goes",
          amount: minor(
            taken.reduce((t, g) => t + g.retired[0]!.cost - g.retired[0]!.accumulated, 0n),
          ),
        },
        { label: result < 0n ? "Loss" : "Gain", amount: minor(result < 0n ? -result : result) },
      ],
      detail: taken.map(goneOf),
    });
  },
  async posted({ tx, masters, person, now }, { id, params, proposal }) {
    const gone = proposal.detail as Gone[];
    if (gone.length === 0)
      return fail({ code: "RUN_STANDS_IN_WAY", what: "Nothing is left in it to retire" });
    const company = masters.companyByCode.get(params.company)!;
    const entries = gone.flatMap((g) =>
      g.books.flatMap((b) => {
        const of = { asset: g.asset, book: b.book };
        return [
          {
            ...of,
            account: g.accounts.accumulated,
            part: "accumulated",
            movement: "charge",
            amount: -BigInt(b.charge),
          },
          {
            ...of,
            account: g.accounts.cost,
            part: "cost",
            movement: "retirement",
            amount: -BigInt(b.cost),
          },
          {
            ...of,
            account: g.accounts.accumulated,
            part: "accumulated",
            movement: "retirement",
            amount: BigInt(b.accumulated),
          },
        ].filter((e) => e.amount !== 0n);
      }),
    );
    await tx.execute(sql`
      insert into asset_entry (company_id, book_id, account_id, asset_id, part, movement, date,
        amount, journal_id, run_id, made_by, made_at)
      select ${company.id}, x.book, a.id, x.asset, x.part, x.movement, j.date, x.amount, j.id, ${id},
        ${person.id}, ${now.toISOString()}
      from unnest(${arrayOf(entries.map((e) => e.asset))}::bigint[],
          ${arrayOf(entries.map((e) => e.book))}::smallint[],
          ${arrayOf(entries.map((e) => e.account))}::text[],
          ${arrayOf(entries.map((e) => e.part))}::text[],
          ${arrayOf(entries.map((e) => e.movement))}::text[],
          ${arrayOf(entries.map((e) => e.amount))}::bigint[])
          with ordinality as x(asset, book, account, part, movement, amount, place)
        join account a on a.number = x.account
        join journal j on j.origin_id = ${id} and j.book_id = x.book and j.reverses_id is null
      order by x.place`);
    await tx.execute(sql`
      insert into asset_change (asset_id, book_id, kind, "on", content, reason, run_id, made_by,
        made_at)
      select x.asset, 0, 'retired', ${params.date}::date,
        jsonb_build_object('n', x.n, 'd', x.d), ${params.why}, ${id}, ${person.id},
        ${now.toISOString()}
      from unnest(${arrayOf(gone.map((g) => g.asset))}::bigint[],
        ${arrayOf(gone.map((g) => g.n))}::text[], ${arrayOf(gone.map((g) => g.d))}::text[])
        as x(asset, n, d)`);
    await setStatus(
      tx,
      gone.filter((g) => g.all).map((g) => g.asset),
      "ended",
    );
    await releaseItems(tx, id);
    return ok({});
  },
  async reversed({ tx, person, now }, { id }) {
    const back = await rows<{ asset: number }>(
      tx,
      sql`insert into asset_change (asset_id, book_id, kind, "on", content, reason, undoes, run_id,
          made_by, made_at)
        select c.asset_id, c.book_id, c.kind, c.on, c.content, 'taken back', c.id, ${id}::bigint,
          ${person.id}::int, ${now.toISOString()}::timestamptz
        from asset_change c where c.run_id = ${id} and c.undoes is null
        returning asset_id::int as asset`,
    );
    await setStatus(
      tx,
      back.map((b) => b.asset),
      "active",
    );
  },
});

const keyOf = (asset: number): string => `retire|${asset}`;

function itemOf(going: Going, currency: string, dropped: ReadonlySet<string>): RunItem {
  const { asset, shareText, proceeds, retired } = going;
  const [ofAll] = retired;
  const key = keyOf(asset.id);
  const money = (amount: bigint) => `${amountText(minor(amount), currency)} ${currency}`;
  const step = (label: string, amount: bigint): Step => ({ label, amount });
  return {
    key,
    label: `${asset.number} ${asset.title}`,
    group: asset.className,
    amount: minor(ofAll!.cost - ofAll!.accumulated),
    why: `${shareText}; ${ofAll!.result < 0n ? `a loss of ${money(-ofAll!.result)}` : `a gain of ${money(ofAll!.result)}`}`,
    droppable: true,
    ...(dropped.has(key) ? {} : { drafts: [0] }),
    explanation: {
      title: `${asset.number} ${asset.title}, ${shareText}`,
      steps: retired.flatMap((r): Step[] => [
        ...(r.book ? [{ label: `Besides, in ${r.book.code}`, text: "what differs" }] : []),
        ...(r.charge === 0n ? [] : [step("Charged until it goes", r.charge)]),
        step("Cost", r.cost),
        step("Accumulated depreciation", -r.accumulated),
        ...(r.book ? [] : [step("Got for it", -proceeds)]),
        {
          label: `${r.result < 0n ? "Loss" : "Gain"}${r.book ? ` in ${r.book.code}` : ""}`,
          amount: minor(r.result < 0n ? -r.result : r.result),
          total: true,
        },
      ]),
    },
  };
}

const goneOf = ({ asset, share, retired }: Going): Gone => ({
  asset: asset.id,
  accounts: { cost: asset.accounts.cost, accumulated: asset.accounts.accumulated },
  n: String(share.n),
  d: String(share.d),
  all: isAll(share),
  books: retired.map((r) => ({
    book: r.book?.id ?? 0,
    charge: String(r.charge),
    cost: String(r.cost),
    accumulated: String(r.accumulated),
  })),
});
