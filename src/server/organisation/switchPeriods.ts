import { sql } from "drizzle-orm";
import { array, object, string } from "yup";
import { AREAS, type Area, type Right } from "@/core/access";
import {
  checkPeriodStep,
  periodKey,
  PERIOD_STATES,
  stateOf,
  type Company,
  type Period,
  type PeriodState,
} from "@/core/organisation";
import { fail, ok, type Result } from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";
import { defineUseCase, type Context } from "../access";
import { loadPeriods } from "./periods";

export const periodRight = (area: Area): Right =>
  area === "stock" ? "period.ledger" : `period.${area}`;

/** What else has to hold before a period of the ledger closes. */
export type CloseGuard = (
  context: Context,
  company: Company,
  bookId: number,
  periods: readonly Period[],
) => Promise<Result<unknown>>;

/** What happens by itself when periods of the ledger have opened in every book. */
export type WhenOpened = (
  context: Context,
  company: Company,
  periods: readonly Period[],
) => Promise<Result<unknown>>;

export const switchPeriods = defineUseCase({
  name: "switchPeriods",
  kind: "write",
  closes: true,
  rights: [
    "period.ledger",
    "period.payables",
    "period.receivables",
    "period.banks",
    "period.assets",
  ],
  what: "open or close periods",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    book: string().required(),
    area: string()
      .oneOf([...AREAS, "all"])
      .required(),
    periods: array(string().required()).required().min(1).max(60),
    to: string().oneOf(PERIOD_STATES).required(),
    reason: string().default("").max(500),
  }),
  run: async (context, input) => {
    const { masters, may } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const books =
      input.book === "all" ? masters.books : masters.books.filter((b) => b.code === input.book);
    if (books.length === 0) return fail({ code: "BOOK_UNKNOWN", book: input.book, field: "book" });
    // The ledger last: it closes when its areas have.
    const areas =
      input.area === "all"
        ? [...AREAS.filter((a) => a !== "ledger"), "ledger" as const]
        : [input.area as Area];
    const forbidden = areas.find((a) => !may(periodRight(a), company.code));
    if (forbidden)
      return fail({ code: "FORBIDDEN", what: `open or close periods of ${forbidden}` });
    let switched = 0;
    for (const area of areas)
      for (const book of books) {
        const result = await switchArea(
          context,
          company,
          book.id,
          area,
          input.periods,
          input.to as PeriodState,
          input.reason,
        );
        if (!result.ok) return result;
        switched += result.value;
      }
    if (input.to === "open" && switched > 0) {
      const now = (await loadPeriods(context.tx, [company.id], { areas: ["ledger"] })).filter(
        (p) =>
          input.periods.includes(periodKey(p)) &&
          masters.books.every((b) => stateOf(p, b.id, "ledger") === "open"),
      );
      for (const follow of (await import("../kinds")).WHEN_OPENED) {
        const done = await follow(context, company, now);
        if (!done.ok) return done;
      }
    }
    return ok({ switched });
  },
});

async function switchArea(
  context: Context,
  company: Company,
  bookId: number,
  area: Area,
  keys: readonly string[],
  to: PeriodState,
  reason: string,
): Promise<Result<number>> {
  const { tx, person, now, audit, masters } = context;
  // The chain row is what every posting of the company holds: nobody posts into a period while it
  // changes.
  const [head] = await rows<{ seq: bigint; hash: string }>(
    tx,
    sql`select seq, hash from chain where company_id = ${company.id} for update`,
  );
  const all = await loadPeriods(tx, [company.id], { areas: ["ledger", area] });
  const used = to === "not-yet" ? await periodsWithPostings(tx, company.id) : new Set<string>();
  const checked = checkPeriodStep(all, { periods: keys, bookId, area, to, reason }, used);
  if (!checked.ok) return checked;
  const changing = checked.value;
  if (changing.length === 0) return ok(0);
  if (area === "ledger" && to === "closed")
    for (const guard of (await import("../kinds")).BEFORE_CLOSING) {
      const guarded = await guard(context, company, bookId, changing);
      if (!guarded.ok) return guarded;
    }
  await tx.execute(sql`
    insert into period_state (year_id, no, book_id, area, state)
    select y, n, ${bookId}::smallint, ${area}, ${to}
      from unnest(${arrayOf(changing.map((p) => p.yearId))}::int[],
      ${arrayOf(changing.map((p) => p.no))}::smallint[]) as x(y, n)
    on conflict (year_id, no, book_id, area) do update set state = excluded.state`);
  await tx.execute(sql`
    insert into close_record (company_id, year_id, no, book_id, area, from_state, to_state, reason,
      person_id, at, chain_seq, chain_hash)
    select ${company.id}, y, n, ${bookId}::smallint, ${area}, f, ${to}, ${reason.trim()},
      ${person.id}, ${now.toISOString()}::timestamptz, ${head!.seq}, ${head!.hash}
    from unnest(${arrayOf(changing.map((p) => p.yearId))}::int[],
      ${arrayOf(changing.map((p) => p.no))}::smallint[],
      ${arrayOf(changing.map((p) => stateOf(p, bookId, area)))}::text[]) as x(y, n, f)`);
  const book = masters.bookById.get(bookId)!.code;
  for (const p of changing)
    await audit({
      action: to === "closed" ? "closed" : to === "open" ? "opened" : to,
      kind: "period",
      recordId: `${company.code} ${periodKey(p)}`,
      label: `${periodKey(p)} ${area} ${book}`,
      companyId: company.id,
      before: { state: stateOf(p, bookId, area) },
      after: { state: to, reason },
    });
  return ok(changing.length);
}

async function periodsWithPostings(tx: Db, companyId: number): Promise<Set<string>> {
  const found = await rows<{ yearName: string; no: number }>(
    tx,
    sql`select distinct y.name as "yearName", j.period_no as no from journal j
      join fiscal_year y on y.id = j.year_id where j.company_id = ${companyId}`,
  );
  return new Set(found.map(periodKey));
}
