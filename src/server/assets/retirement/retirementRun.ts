import { sql } from "drizzle-orm";
import { array, object, string, type InferType } from "yup";
import {
  byUse,
  isAll,
  readShareGone,
  retire,
  RETIREMENT_KINDS,
  type BookRef,
  type FiscalSpan,
  type Retired,
  type Share,
} from "@/core/assets";
import type { JournalDraft, Masters } from "@/core/ledger";
import type { RunItem, Step } from "@/core/runs";
import {
  amountText,
  dateText,
  dayField,
  fail,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { setStatus } from "../../documents";
import { loadYears } from "../../organisation";
import { defineRunKind, releaseItems, upToDay } from "../../runs";
import { loadFacts, type AssetFacts } from "../depreciation/loadFacts";

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
type Params = InferType<typeof schema>;

interface Going {
  asset: AssetFacts;
  share: Share;
  shareText: string;
  proceeds: Minor;
  account: string;
  retired: Retired[];
}
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

type Company = { id: number; code: string; name: string; currency: string };

/** The assets that go, with what that does in each book; what is wrong at the place of each. */
async function whatGoes(
  { tx, masters }: Context,
  company: Company,
  params: Params,
): Promise<Result<Going[]>> {
  const years: FiscalSpan[] = (await loadYears(tx, [company.id])).map((y) => ({
    first: y.start,
    last: y.end,
  }));
  const books: BookRef[] = masters.books.map(({ id, code }) => ({ id, code }));
  const numbers = params.assets.map((a) => a.number);
  const facts = await loadFacts(
    tx,
    sql`a.document_id in (select d.id from document d join asset x on x.document_id = d.id
      where x.company_id = ${company.id} and d.status = 'active'
        and d.number = any(${arrayOf(numbers)}::text[]))`,
    { first: params.date, last: params.date },
  );
  const byNumber = new Map(facts.map((f) => [f.number, f]));
  const problems: Found[] = [];
  const going: Going[] = [];
  for (const said of params.assets) {
    const asset = byNumber.get(said.number);
    const share = readShareGone(said.share);
    const proceeds = said.proceeds === "" ? minor(0n) : amountIn(said.proceeds, company.currency);
    const before = problems.length;
    if (!asset)
      problems.push({
        code: "NOT_FOUND",
        what: `asset ${said.number.slice(0, 40)} of ${company.name} in use`,
        field: "number",
      });
    if (!share)
      problems.push({
        code: "INVALID",
        what: `“${said.share}” is no share that can go: write all, 1/2 or 40 %`,
        field: "share",
      });
    if (proceeds === null || proceeds < 0n)
      problems.push({
        code: "INVALID",
        what: `“${said.proceeds}” is no amount that was got for it`,
        field: "proceeds",
      });
    problems.push(...againstAccount(masters, said.account, proceeds ?? minor(0n)));
    if (asset && params.date < asset.history.inService)
      problems.push({
        code: "INVALID",
        what: `${asset.number} is in use from ${dateText(asset.history.inService)} on`,
        field: "date",
      });
    if (asset && (asset.accounts.gain === "" || asset.accounts.loss === ""))
      problems.push({
        code: "INVALID",
        what: `Its class ${asset.className} has no accounts of gain and loss on disposal`,
        field: "number",
      });
    if (problems.length > before || !asset || !share || proceeds === null) continue;
    const gone = { on: params.date, share, proceeds };
    going.push({
      asset,
      share,
      shareText: isAll(share) ? "all of it" : said.share,
      proceeds,
      account: said.account,
      retired: retire(asset.history, books, gone, years),
    });
  }
  const [first, ...others] = problems;
  return first ? fail(first, ...others) : ok(going);
}

function amountIn(text: string, currency: string): Minor | null {
  const read = readAmount(text, currency);
  return read.ok ? read.amount : null;
}

function againstAccount(masters: Masters, number: string, proceeds: Minor): Found[] {
  if (number === "")
    return proceeds === 0n
      ? []
      : [
          {
            code: "INVALID",
            what: "Say on which account the invoice has booked what was got for it",
            field: "account",
          },
        ];
  const account = masters.accountByNumber.get(number);
  if (!account) return [{ code: "ACCOUNT_UNKNOWN", account: number, field: "account" }];
  return account.control === null
    ? []
    : [{ code: "CONTROL_ACCOUNT", account: number, control: account.control, field: "account" }];
}

/** One journal for all books, and one for each book that has a difference. */
function draftsOf(
  masters: Masters,
  company: string,
  params: Params,
  going: readonly Going[],
): JournalDraft[] {
  const text = `Assets ${params.why} on ${dateText(params.date)}`;
  const books = [...new Set(going.flatMap((g) => g.retired.map((r) => r.book?.id ?? 0)))];
  return books.flatMap((book): JournalDraft[] => {
    const lines = going.flatMap((g) => {
      const own = g.retired.find((r) => (r.book?.id ?? 0) === book);
      return own ? linesOf(g, own, params.date) : [];
    });
    return lines.length === 0
      ? []
      : [
          {
            company,
            type: "asset",
            book: book === 0 ? null : masters.bookById.get(book)!.code,
            date: params.date,
            description: book === 0 ? text : `${text}, difference`,
            lines,
          },
        ];
  });
}

function linesOf(going: Going, own: Retired, date: CalendarDate): JournalDraft["lines"][number][] {
  const { asset, proceeds, account, retired } = going;
  const { accounts } = asset;
  const [user] = byUse(minor(1n), asset.places, date, date);
  const dimensions = user?.dimensions ?? {};
  const line = (
    number: string,
    amount: bigint,
    coding: Readonly<Record<string, string>>,
    listed: boolean,
  ) =>
    amount === 0n
      ? []
      : [
          {
            account: number,
            dimensions: coding,
            description: `${asset.number} ${asset.title}`.slice(0, 200),
            side: amount > 0n ? ("debit" as const) : ("credit" as const),
            amount: minor(amount > 0n ? amount : -amount),
            ...(listed ? { listed: true as const } : {}),
          },
        ];
  const resultOn = (result: Minor) => (result < 0n ? accounts.loss : accounts.gain);
  const ofAll = retired[0]!;
  // A book of its own takes what all books have of the result away, and puts its own there.
  const results =
    own.book === null
      ? line(resultOn(own.result), -own.result, dimensions, false)
      : resultOn(own.result) === resultOn(ofAll.result)
        ? line(resultOn(own.result), ofAll.result - own.result, dimensions, false)
        : [
            ...line(resultOn(ofAll.result), ofAll.result, dimensions, false),
            ...line(resultOn(own.result), -own.result, dimensions, false),
          ];
  return [
    ...line(accounts.charge, own.charge, dimensions, false),
    ...line(accounts.accumulated, own.accumulated - own.charge, {}, true),
    ...line(accounts.cost, -own.cost, {}, true),
    ...(own.book === null ? line(account, proceeds, dimensions, false) : []),
    ...results,
  ];
}

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
