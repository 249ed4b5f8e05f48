import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import type { AccountType, Masters } from "@/core/ledger";
import {
  periodKey,
  periodName,
  type Book,
  type Company,
  type FiscalYear,
  type Period,
} from "@/core/organisation";
import { fail, minor, ok, readInstant, type Minor, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import { defineUseCase, type Context } from "../access";
import { calendarOf } from "../organisation/periods";
import { loadTurnover } from "./balances";

/** The company, book and stretch of periods of one year that a report is about. */
export interface ReportPlace {
  company: Company;
  book: Book;
  from: Period;
  to: Period;
  years: FiscalYear[];
  periods: Period[];
  asKnownSeq: bigint | undefined;
  /** The instant behind `asKnownSeq`. */
  asKnown: string | undefined;
}

export const placeSchema = {
  company: string().required(),
  book: string(),
  /** Key of the period, or of the last one of a range. */
  period: string().required(),
  from: string(),
  /** Instant: the report as it stood then. */
  asKnown: string(),
};

export interface PlaceInput {
  company: string;
  book?: string | undefined;
  period: string;
  from?: string | undefined;
  asKnown?: string | undefined;
}

/** Finds what a report is about. Errors: COMPANY_UNKNOWN, BOOK_UNKNOWN, PERIOD_UNKNOWN, INVALID. */
export async function findPlace(
  { tx, masters }: Pick<Context, "tx" | "masters">,
  input: PlaceInput,
  { severalYears = false } = {},
): Promise<Result<ReportPlace>> {
  const company = masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const book = input.book ? masters.bookByCode.get(input.book) : masters.mainBook;
  if (!book) return fail({ code: "BOOK_UNKNOWN", book: input.book ?? "", field: "book" });
  const { years, periods } = await calendarOf(tx, masters, company.id);
  const to = periods.find((p) => periodKey(p) === input.period);
  if (!to)
    return fail({
      code: "PERIOD_UNKNOWN",
      period: input.period,
      company: company.name,
      field: "period",
    });
  const from = input.from ? periods.find((p) => periodKey(p) === input.from) : to;
  if (!from)
    return fail({
      code: "PERIOD_UNKNOWN",
      period: input.from ?? "",
      company: company.name,
      field: "from",
    });
  if (periods.indexOf(from) > periods.indexOf(to))
    return fail({ code: "INVALID", what: "The earlier period comes first", field: "from" });
  if (from.yearId !== to.yearId && !severalYears)
    return fail({
      code: "INVALID",
      what: `This shows periods of one fiscal year; ${periodName(from)} and ${periodName(to)} lie in two`,
      field: "from",
    });
  let asKnownSeq: bigint | undefined;
  let asKnown: string | undefined;
  if (input.asKnown) {
    const at = readInstant(input.asKnown);
    if (!at) return fail({ code: "DATE_INVALID", text: input.asKnown, field: "asKnown" });
    asKnownSeq = await seqAt(tx, company.id, at);
    asKnown = at.toISOString();
  }
  return ok({ company, book, from, to, years, periods, asKnownSeq, asKnown });
}

/** The last journal of a company's chain that was posted by an instant. */
export async function seqAt(tx: Db, companyId: number, at: Date): Promise<bigint> {
  const [row] = await rows<{ seq: bigint }>(
    tx,
    sql`select coalesce(max(seq), 0)::bigint as seq from journal
      where company_id = ${companyId} and posted_at <= ${at.toISOString()}`,
  );
  return row!.seq;
}

export interface TrialBalanceRow {
  accountId: number;
  account: string;
  name: string;
  type: AccountType;
  headingId: number;
  opening: Minor;
  debit: Minor;
  credit: Minor;
  closing: Minor;
}
export interface TrialBalance {
  company: string;
  companyName: string;
  book: string;
  currency: string;
  period: string;
  from: string;
  label: string;
  rows: TrialBalanceRow[];
  /** Result of earlier years that no year end has carried yet; what the openings lack of zero. */
  uncarried: Minor;
  totals: { opening: Minor; debit: Minor; credit: Minor; closing: Minor };
}

/** Values of dimensions asked for, each widened to everything below it. */
export function branchesOf(masters: Masters, values: readonly string[]): Result<number[][]> {
  const lists: number[][] = [];
  for (const text of values) {
    const [dimensionCode = "", valueCode = ""] = text.split(":");
    const dimension = masters.dimensionByCode.get(dimensionCode);
    if (!dimension)
      return fail({ code: "DIMENSION_UNKNOWN", dimension: dimensionCode, field: "value" });
    const value = masters.value(dimension.id, valueCode);
    if (!value)
      return fail({
        code: "VALUE_UNKNOWN",
        dimension: dimension.name.toLowerCase(),
        value: valueCode,
        field: "value",
      });
    lists.push(masters.branch(value.id));
  }
  return ok(lists);
}

/** Every value that a person answers for, with what lies below. */
export const ownBranch = (masters: Masters, personId: number): number[] => [
  ...new Set(
    masters.dimensionValues
      .filter((v) => v.responsibleId === personId)
      .flatMap((v) => masters.branch(v.id)),
  ),
];

/**
 * What the person may see of the ledger: everything in the company, or only the branch of the
 * dimension trees that is theirs.
 */
export function visibleBranch(
  context: Pick<Context, "masters" | "person" | "may">,
  company: string,
): number[] | null {
  return context.may("read.ledger", company) || context.may("read.statements", company)
    ? null
    : ownBranch(context.masters, context.person.id);
}

export const trialBalance = defineUseCase({
  name: "trialBalance",
  kind: "read",
  rights: ["read.ledger", "read.branch"],
  what: "see the trial balance",
  company: (i) => i.company,
  schema: object({
    ...placeSchema,
    withClosing: boolean().default(false),
    values: array(string().required()).default([]),
  }),
  run: async (context, input): Promise<Result<TrialBalance>> => {
    const place = await findPlace(context, input);
    if (!place.ok) return place;
    const values = branchesOf(context.masters, input.values);
    if (!values.ok) return values;
    const own = visibleBranch(context, input.company);
    return ok(
      await buildTrialBalance(context, place.value, {
        withClosing: input.withClosing,
        values: own ? [...values.value, own] : values.value,
      }),
    );
  },
});

interface AccountSums {
  /** What the year opened with. */
  start: bigint;
  opening: bigint;
  debit: bigint;
  credit: bigint;
}

/**
 * Opening and turnover of each account. The usual question, the ledger as it is and whole, is one
 * row per account from the database.
 */
async function sumsByAccount(
  tx: Db,
  masters: Masters,
  place: ReportPlace,
  options: { withClosing: boolean; values: readonly (readonly number[])[] },
): Promise<Map<number, AccountSums>> {
  const { company, book, from, to, years } = place;
  const sums = new Map<number, AccountSums>();
  if (options.values.length === 0 && place.asKnownSeq === undefined) {
    const found = await rows<AccountSums & { accountId: number }>(
      tx,
      sql`select b.account_id as "accountId",
        coalesce(sum(b.debit - b.credit) filter (where b.period_no = 0), 0)::bigint as start,
        coalesce(sum(b.debit - b.credit) filter (where b.period_no < ${from.no}),
        0)::bigint as opening,
            coalesce(sum(b.debit) filter (where b.period_no >= ${from.no}), 0)::bigint as debit,
              coalesce(sum(b.credit) filter (where b.period_no >= ${from.no}), 0)::bigint as credit
          from account_balance b where b.company_id = ${company.id} and b.book_id in (0, ${book.id})
            and b.year_id = ${to.yearId}
            and b.period_no <= ${to.no} ${options.withClosing ? sql`` : sql`and not b.closing`}
            group by 1`,
    );
    for (const { accountId, ...row } of found) sums.set(accountId, row);
    return sums;
  }
  const turnover = await loadTurnover(
    tx,
    {
      companyId: company.id,
      bookId: book.id,
      yearIds: [to.yearId],
      upTo: { yearId: to.yearId, no: to.no },
      withClosing: options.withClosing,
      values: options.values,
      asKnownSeq: place.asKnownSeq,
    },
    masters,
    years,
  );
  for (const t of turnover) {
    const row = sums.get(t.accountId) ?? { start: 0n, opening: 0n, debit: 0n, credit: 0n };
    if (t.periodNo === 0) row.start += t.debit - t.credit;
    if (t.periodNo < from.no) row.opening += t.debit - t.credit;
    else {
      row.debit += t.debit;
      row.credit += t.credit;
    }
    sums.set(t.accountId, row);
  }
  return sums;
}

export async function buildTrialBalance(
  { tx, masters }: Pick<Context, "tx" | "masters">,
  place: ReportPlace,
  options: { withClosing: boolean; values: readonly (readonly number[])[] },
): Promise<TrialBalance> {
  const { company, book, from, to } = place;
  const byAccount = await sumsByAccount(tx, masters, place, options);
  let openings = 0n;
  for (const [accountId, sums] of byAccount)
    if (masters.accountById.get(accountId)?.type !== "units") openings += sums.start;
  const list = masters.accounts.flatMap((a): TrialBalanceRow[] => {
    const row = byAccount.get(a.id);
    if (a.type === "units") return [];
    const { opening, debit, credit } = row ?? { opening: 0n, debit: 0n, credit: 0n };
    return [
      {
        accountId: a.id,
        account: a.number,
        name: a.name,
        type: a.type,
        headingId: a.headingId,
        opening: minor(opening),
        debit: minor(debit),
        credit: minor(credit),
        closing: minor(opening + debit - credit),
      },
    ];
  });
  // With a choice of dimension values the openings need not add up to zero, and nothing is missing
  // from them.
  const uncarried = options.values.length > 0 ? 0n : -openings;
  const total = (pick: (r: TrialBalanceRow) => bigint) =>
    list.reduce((sum, r) => sum + pick(r), 0n);
  return {
    company: company.code,
    companyName: company.name,
    book: book.code,
    currency: company.currency,
    period: periodKey(to),
    from: periodKey(from),
    label: from === to ? periodName(to) : `${from.name} to ${periodName(to)}`,
    rows: list,
    uncarried: minor(uncarried),
    totals: {
      opening: minor(total((r) => r.opening) + uncarried),
      debit: minor(total((r) => r.debit)),
      credit: minor(total((r) => r.credit)),
      closing: minor(total((r) => r.closing) + uncarried),
    },
  };
}
