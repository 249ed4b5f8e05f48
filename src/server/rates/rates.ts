import { sql } from "drizzle-orm";
import { array, boolean, number, object, string } from "yup";
import type { Masters } from "@/core/ledger";
import {
  findRate,
  rateProblem,
  RATE_KINDS,
  readRate,
  simulatedRates,
  type FoundRate,
  type Rate,
  type RateKind,
  TYPED_RATES,
  type TypedRates,
} from "@/core/rates";
import {
  addDays,
  fail,
  isCalendarDate,
  isCurrency,
  ok,
  tableRow,
  type Found,
  type Result,
} from "@/core/shared";
import { arrayOf, rows, schema as tables, type Db, readSetting, writeSetting } from "../db";
import { defineUseCase } from "../access";

/**
 * The rates that converting these journals could need: for each kind and pair the newest on or
 * before each of their dates. None where all
 * are in the functional currencies of their companies.
 */
export async function ratesFor(
  tx: Db,
  masters: Masters,
  journals: readonly { companies: readonly string[]; currency: string | undefined; date: string }[],
): Promise<Rate[]> {
  const foreign = journals.filter(
    (j) =>
      j.currency &&
      isCurrency(j.currency) &&
      isCalendarDate(j.date) &&
      j.companies.some((c) => masters.companyByCode.get(c)?.currency !== j.currency),
  );
  if (foreign.length === 0) return [];
  return newestRates(tx, [...new Set(foreign.map((j) => j.date))]);
}

/**
 * For each of the days the newest rate of every kind and pair, with the days for which it may be
 * used. Averages and closing rates stand for a month and serve for as long.
 */
export const newestRates = async (tx: Db, dates: readonly string[]): Promise<Rate[]> => {
  return rows<Rate>(
    tx,
    sql`select distinct r.kind, r.base, r.quote, r.date, r.rate::text as rate,
        case when r.kind = 'spot' then coalesce(m.days, (select value::text::int from setting
          where key = ${AGE_SETTING}), ${DEFAULT_AGE}) else ${MONTH} end as "maxAge"
      from unnest(${arrayOf(dates)}::date[]) as x(day)
        cross join lateral (select distinct on (kind, base, quote) kind, base, quote, date, rate
          from rate where date <= x.day order by kind, base, quote, date desc) r
        left join rate_limit m on (m.base, m.quote) in ((r.base, r.quote), (r.quote, r.base))`,
  );
};

const AGE_SETTING = "rates.maxAge";
/** Days for which a spot rate may be used, where nobody has said otherwise. */
const DEFAULT_AGE = 7;
/** Days for which an average or a closing rate may be used. */
const MONTH = 31;
const TYPED_SETTING = "rates.typed";

export interface RateLimits {
  /** Days, for pairs that are not named. */
  days: number;
  /** Whether a typed rate does where none is young enough. */
  typed: TypedRates;
  pairs: { base: string; quote: string; days: number }[];
}

const readRateLimits = async (tx: Db): Promise<RateLimits> => {
  return {
    days: (await readSetting<number>(tx, AGE_SETTING)) ?? DEFAULT_AGE,
    typed: (await readSetting<TypedRates>(tx, TYPED_SETTING)) ?? "taken",
    pairs: await tx.select().from(tables.rateLimit).orderBy(tables.rateLimit.base),
  };
};

export const rateLimits = defineUseCase({
  name: "rateLimits",
  kind: "read",
  rights: ["read.ledger", "read.setup", "setup.rules"],
  what: "see how old rates may be",
  of: "shared",
  schema: object(),
  run: async ({ tx }): Promise<Result<RateLimits>> => ok(await readRateLimits(tx)),
});

const days = () =>
  number()
    .typeError("Say a whole number of days")
    .integer("Say a whole number of days")
    .min(0, "Say a whole number of days")
    .max(3660, "At most ten years");

/**
 * How old a spot rate may be: in common, or for one pair, whichever way round it is quoted. A pair
 * without days follows the common limit again.
 */
export const saveRateLimit = defineUseCase({
  name: "saveRateLimit",
  kind: "write",
  rights: ["setup.rules"],
  what: "change how old rates may be",
  of: "group",
  schema: object({
    base: string().trim().uppercase().default(""),
    quote: string().trim().uppercase().default(""),
    days: days().nullable().default(null),
    /** Left as it is where nothing is said. */
    typed: string().oneOf(TYPED_RATES),
  }),
  run: async ({ tx, audit }, { base, quote, days, typed }): Promise<Result<unknown>> => {
    const common = base === "" && quote === "";
    if (common && days === null)
      return fail({ code: "REQUIRED", what: "The number of days", field: "days" });
    for (const [field, currency] of common
      ? []
      : ([
          ["base", base],
          ["quote", quote],
        ] as const))
      if (!isCurrency(currency)) return fail({ code: "CURRENCY_UNKNOWN", currency, field });
    const before = await readRateLimits(tx);
    if (typed) await writeSetting(tx, TYPED_SETTING, typed);
    if (common) await writeSetting(tx, AGE_SETTING, days);
    else {
      await tx.execute(
        sql`delete from rate_limit where (base, quote) in ((${base}, ${quote}), (${quote}, ${base}))`,
      );
      if (days !== null) await tx.insert(tables.rateLimit).values({ base, quote, days });
    }
    await audit({
      action: "changed",
      kind: "age of rates",
      recordId: common ? "all" : `${base}/${quote}`,
      before,
      after: await readRateLimits(tx),
    });
    return ok({});
  },
});

export interface RateRow extends Rate {
  source: string;
  by: string;
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}

/** The newest rates of every kind and pair, or all of one pair. */
export const listRates = defineUseCase({
  name: "listRates",
  kind: "read",
  rights: ["read.ledger", "read.setup", "setup.rules"],
  what: "see rates",
  of: "shared",
  schema: object({
    base: string(),
    quote: string(),
    limit: number().integer().min(1).max(5000).default(2000),
  }),
  run: async ({ tx }, input): Promise<Result<RateRow[]>> =>
    ok(
      await rows<RateRow>(
        tx,
        sql`select r.kind, r.base, r.quote, r.date, r.rate::text as rate, r.source,
          coalesce(p.name, '') as by, count(*) over ()::int as "of" from rate r left join person p on p.id = r.saved_by
            where ${input.base ? sql`r.base = ${input.base}` : sql`true`}
              and ${input.quote ? sql`r.quote = ${input.quote}` : sql`true`} order by r.date desc,
              r.base, r.quote, r.kind limit ${input.limit}`,
      ),
    ),
});

/** What one currency is worth in another on a day, with the way to it. */
export const askRate = defineUseCase({
  name: "askRate",
  kind: "read",
  rights: ["read.ledger", "read.setup", "setup.rules"],
  what: "see rates",
  of: "shared",
  schema: object({
    kind: string().oneOf(RATE_KINDS).default("spot"),
    from: string().required(),
    to: string().required(),
    date: string().required(),
  }),
  run: async ({ tx }, input): Promise<Result<FoundRate & { from: string; to: string }>> => {
    for (const [field, currency] of [
      ["from", input.from],
      ["to", input.to],
    ] as const)
      if (!isCurrency(currency)) return fail({ code: "CURRENCY_UNKNOWN", currency, field });
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    const known = await newestRates(tx, [input.date]);
    const found = findRate(known, input.kind, input.from, input.to, input.date);
    return found
      ? ok({ from: input.from, to: input.to, ...found })
      : fail(rateProblem(known, input.kind, input.from, input.to, input.date));
  },
});

/**
 * Takes rates in: all of them or none. One that is there for the day is replaced. Without `take` it
 * only says what would happen.
 */
export const loadRates = defineUseCase({
  name: "loadRates",
  kind: "write",
  rights: ["setup.rules"],
  what: "load rates",
  of: "group",
  schema: object({
    rows: array(tableRow()).required().max(20_000),
    source: string().max(80).default("file"),
    take: boolean().default(false),
  }),
  run: async (
    { tx, person, now, audit },
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const problems: Found[] = [];
    const seen = new Map<string, number>();
    const list: (Rate & { key: string })[] = [];
    input.rows.forEach((row, i) => {
      const bad = (what: string, field: string) =>
        problems.push({ code: "INVALID", what: `Row ${i + 2}: ${what}`, field });
      const kind = (row.kind || "spot").toLowerCase();
      const base = (row.base ?? "").toUpperCase();
      const quote = (row.quote ?? "").toUpperCase();
      const rate = readRate(row.rate ?? "");
      if (!RATE_KINDS.includes(kind as RateKind))
        bad(`“${kind.slice(0, 20)}” is no kind of rate; write spot, average or closing`, "kind");
      if (!isCurrency(base)) bad(`“${base.slice(0, 10)}” is no currency code of ISO 4217`, "base");
      if (!isCurrency(quote))
        bad(`“${quote.slice(0, 10)}” is no currency code of ISO 4217`, "quote");
      if (base === quote) bad("base and quote are the same currency", "quote");
      if (!isCalendarDate(row.date ?? ""))
        bad(`“${(row.date ?? "").slice(0, 20)}” is no date; write 2026-10-31`, "date");
      if (rate === null) bad(`“${(row.rate ?? "").slice(0, 20)}” is no rate`, "rate");
      const key = `${kind}|${base}|${quote}|${row.date}`;
      if (seen.has(key)) bad(`the same rate stands in row ${seen.get(key)} already`, "rate");
      seen.set(key, i + 2);
      if (rate !== null)
        list.push({ kind: kind as RateKind, base, quote, date: row.date ?? "", rate, key });
    });
    if (problems.length > 0) return fail(...problems);
    const column = (pick: (r: Rate) => string) => arrayOf(list.map(pick));
    const there = await rows<{ key: string; rate: string }>(
      tx,
      sql`select r.kind || '|' || r.base || '|' || r.quote || '|' || r.date as key,
        r.rate::text as rate from rate r join unnest(${column((r) => r.kind)}::text[],
        ${column((r) => r.base)}::text[], ${column((r) => r.quote)}::text[],
        ${column((r) => r.date)}::date[]) as x(k, b, q, d)
          on r.kind = x.k and r.base = x.b and r.quote = x.q and r.date = x.d`,
    );
    const before = new Map(there.map((t) => [t.key, t.rate]));
    const counts = { added: 0, changed: 0, same: 0 };
    for (const r of list)
      counts[!before.has(r.key) ? "added" : before.get(r.key) === r.rate ? "same" : "changed"]++;
    if (input.take && counts.added + counts.changed > 0) {
      await tx.execute(sql`insert into rate (kind, base, quote, date, rate, source, saved_by, saved_at)
        select k, b, q, d, r, ${input.source}, ${person.id}, ${now.toISOString()}
          from unnest(${column((r) => r.kind)}::text[], ${column((r) => r.base)}::char(3)[],
          ${column((r) => r.quote)}::char(3)[], ${column((r) => r.date)}::date[],
          ${column((r) => r.rate)}::numeric[]) as x(k, b, q, d, r)
        on conflict (kind, base, quote, date) do update set rate = excluded.rate,
          source = excluded.source, saved_by = excluded.saved_by, saved_at = excluded.saved_at
          where rate.rate <> excluded.rate`);
      await audit({
        action: "loaded",
        kind: "rates",
        recordId: input.source,
        label: `${counts.added} added, ${counts.changed} changed`,
        before: list
          .filter((r) => before.has(r.key) && before.get(r.key) !== r.rate)
          .map((r) => `${r.key} ${before.get(r.key)}`),
        after: list.slice(0, 200).map((r) => `${r.key} ${r.rate}`),
      });
    }
    return ok(counts);
  },
});

/**
 * Fetches a month of rates from the simulated feed that stands in for an outside service, and takes
 * them in.
 */
export const fetchRates = defineUseCase({
  name: "fetchRates",
  kind: "write",
  rights: ["setup.rules"],
  what: "fetch rates",
  of: "group",
  schema: object({ from: string().required(), to: string().required() }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    for (const field of ["from", "to"] as const)
      if (!isCalendarDate(input[field]))
        return fail({ code: "DATE_INVALID", text: input[field], field });
    if (input.to < input.from || addDays(input.from, 800) < input.to)
      return fail({
        code: "INVALID",
        what: "The stretch ends before it begins, or is longer than two years",
        field: "to",
      });
    const currencies = [
      ...new Set([
        ...context.masters.companies.map((c) => c.currency),
        "USD",
        "GBP",
        "NOK",
        "ISK",
        "JPY",
        "CHF",
        "SEK",
        "DKK",
        "KWD",
      ]),
    ];
    const found = simulatedRates(
      "EUR",
      currencies.filter((c) => c !== "EUR"),
      input.from,
      input.to,
    );
    return loadRates.definition.run(context, {
      rows: found as unknown as Record<string, string>[],
      source: "simulated feed",
      take: true,
    });
  },
});
