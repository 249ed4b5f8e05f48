import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import {
  codingFromKey,
  dimensionsOf,
  NO_CURRENCY,
  readAccounts,
  type Account,
  type Side,
} from "@/core/ledger";
import { periodKey } from "@/core/organisation";
import type { Turnover } from "@/core/statements";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { loadCurrencyTurnover, loadTurnover } from "./balances";
import {
  branchesOf,
  findPlace,
  placeSchema,
  visibleBranch,
  type ReportPlace,
} from "./trialBalance";

export interface AccountPeriod {
  period: string;
  name: string;
  opening: Minor;
  debit: Minor;
  credit: Minor;
  closing: Minor;
  /** What the year has moved up to and including the period. */
  yearToDate: Minor;
}

/** The year of the accounts in one company and one currency. */
export interface AccountFigures {
  company: string;
  companyName: string;
  /**
   * The functional currency, or that of transactions where amounts are by currency; the code for no
   * currency for units.
   */
  currency: string;
  periods: AccountPeriod[];
  opening: Minor;
  debit: Minor;
  credit: Minor;
  closing: Minor;
}

export interface AccountLine {
  journalId: number;
  lineNo: number;
  company: string;
  account: string;
  number: string;
  date: string;
  period: string;
  type: string;
  description: string;
  dimensions: Record<string, string>;
  side: Side;
  /** In the currency in which the view shows it. */
  amount: Minor;
  currency: string;
  /** The currency of the journal, and the amount in it. */
  foreignCurrency: string;
  foreignAmount: Minor;
  /** Balance of its company and currency after this line, debit positive. */
  balance: Minor;
  reversed: boolean;
}

export interface AccountView {
  accounts: {
    number: string;
    name: string;
    type: string;
    control: string | null;
    heading: string;
  }[];
  book: string;
  from: string;
  period: string;
  figures: AccountFigures[];
  lines: AccountLine[];
  /** Lines there are in all; more than are given where an account is very busy. */
  lineCount: number;
}

/** As many lines as one look can use; more are reached by choosing fewer periods. */
const MOST_LINES = 5000;

export const accountView = defineUseCase({
  name: "accountView",
  kind: "read",
  rights: ["read.ledger", "read.branch"],
  what: "see accounts",
  company: (i) => i.company,
  schema: object({
    ...placeSchema,
    account: string().required().max(500),
    companies: array(string().required()).max(100).default([]),
    values: array(string().required()).default([]),
    /** In the functional currencies in total, or in each currency of transaction. */
    amounts: string()
      .oneOf(["total", "currency"] as const)
      .default("total"),
    limit: number().integer().min(1).max(MOST_LINES).default(MOST_LINES),
  }),
  run: async (context, input): Promise<Result<AccountView>> => {
    const { masters } = context;
    const accounts = readAccounts(input.account, masters);
    if (!accounts)
      return fail({ code: "ACCOUNT_UNKNOWN", account: input.account, field: "account" });
    const asked = branchesOf(masters, input.values);
    if (!asked.ok) return asked;
    const places: Scope[] = [];
    for (const company of input.companies.length > 0 ? input.companies : [input.company]) {
      const found = await findPlace(context, { ...input, company }, { severalYears: true });
      if (!found.ok) return found;
      if (!context.may("read.ledger", company) && !context.may("read.branch", company))
        return fail({ code: "FORBIDDEN", what: `see accounts of ${found.value.company.name}` });
      const own = visibleBranch(context, company);
      places.push({ place: found.value, values: own ? [...asked.value, own] : asked.value });
    }
    const figures: OpenedFigures[] = [];
    for (const scope of places)
      figures.push(...(await figuresOf(context, scope, accounts, input.amounts)));
    const { lines, count } = await linesOf(
      context,
      places,
      accounts,
      input.amounts,
      figures,
      input.limit,
    );
    const { to, from, book } = places[0]!.place;
    return ok({
      accounts: accounts.map((a) => ({
        number: a.number,
        name: a.name,
        type: a.type,
        control: a.control,
        heading: masters.headingById.get(a.headingId)?.name ?? "",
      })),
      book: book.code,
      from: periodKey(from),
      period: periodKey(to),
      figures: figures.map(({ openings: _openings, ...f }) => f),
      lines,
      lineCount: count,
    });
  },
});

/** With what each year opens with, by its identity. */
interface OpenedFigures extends AccountFigures {
  openings: ReadonlyMap<number, bigint>;
}

/** The years from that of the first period to that of the last, in order. */
const yearsOf = ({ from, to, years }: ReportPlace): number[] => {
  const sorted = [...years].sort((a, b) => (a.start < b.start ? -1 : 1)).map((y) => y.id);
  return sorted.slice(sorted.indexOf(from.yearId), sorted.indexOf(to.yearId) + 1);
};

interface Scope {
  place: ReportPlace;
  values: readonly number[][];
}

async function figuresOf(
  { tx, masters }: Context,
  { place, values }: Scope,
  accounts: readonly Account[],
  amounts: "total" | "currency",
): Promise<OpenedFigures[]> {
  const { company, book, from, to, years, periods, asKnownSeq } = place;
  const yearIds = yearsOf(place);
  const filter = {
    companyId: company.id,
    bookId: book.id,
    yearIds,
    withClosing: true,
    accountIds: accounts.map((a) => a.id),
    values,
    asKnownSeq,
  };
  const groups = new Map<string, readonly Turnover[]>();
  if (amounts === "currency")
    for (const [currency, turnover] of await loadCurrencyTurnover(tx, filter, masters, years))
      groups.set(currency, turnover);
  else {
    const turnover = await loadTurnover(tx, filter, masters, years);
    const units = new Set(accounts.filter((a) => a.type === "units").map((a) => a.id));
    if (units.size < accounts.length)
      groups.set(
        company.currency,
        turnover.filter((t) => !units.has(t.accountId)),
      );
    if (units.size > 0)
      groups.set(
        NO_CURRENCY,
        turnover.filter((t) => units.has(t.accountId)),
      );
  }
  if (groups.size === 0) groups.set(company.currency, []);
  return [...groups].map(([currency, turnover]): OpenedFigures => {
    const byPeriod = new Map<string, { debit: bigint; credit: bigint }>();
    const moved = (yearId: number, no: number) =>
      byPeriod.get(`${yearId} ${no}`) ?? { debit: 0n, credit: 0n };
    for (const t of turnover) {
      const row = moved(t.yearId, t.periodNo);
      byPeriod.set(`${t.yearId} ${t.periodNo}`, {
        debit: row.debit + t.debit,
        credit: row.credit + t.credit,
      });
    }
    const openings = new Map(
      yearIds.map((id) => {
        const { debit, credit } = moved(id, 0);
        return [id, debit - credit] as const;
      }),
    );
    const one = yearIds.length === 1;
    const list = yearIds.flatMap((yearId) => {
      const opened = openings.get(yearId)!;
      let balance = opened;
      return periods
        .filter((p) => p.yearId === yearId)
        .map((p) => {
          const { debit, credit } = moved(yearId, p.no);
          const opening = balance;
          balance += debit - credit;
          return {
            place: periods.indexOf(p),
            period: periodKey(p),
            name: `${p.adjustment ? "Adj." : p.name}${one ? "" : ` ${p.yearName}`}`,
            opening: minor(opening),
            debit: minor(debit),
            credit: minor(credit),
            closing: minor(balance),
            yearToDate: minor(balance - opened),
          };
        });
    });
    const within = list.filter(
      (p) => p.place >= periods.indexOf(from) && p.place <= periods.indexOf(to),
    );
    const sum = (pick: (p: AccountPeriod) => bigint) =>
      minor(within.reduce((t, p) => t + pick(p), 0n));
    return {
      company: company.code,
      companyName: company.name,
      currency,
      periods: list.map(({ place: _place, ...p }) => p),
      openings,
      opening: within[0]!.opening,
      debit: sum((p) => p.debit),
      credit: sum((p) => p.credit),
      closing: within.at(-1)!.closing,
    };
  });
}

async function linesOf(
  { tx, masters }: Context,
  scopes: readonly Scope[],
  accounts: readonly Account[],
  amounts: "total" | "currency",
  figures: readonly OpenedFigures[],
  limit: number,
): Promise<{ lines: AccountLine[]; count: number }> {
  const where = sql.join(
    scopes
      .map((s) => ({ ...s, between: yearsOf(s.place) }))
      .map(
        ({
          place: { company, book, from, to, asKnownSeq },
          values,
          between,
        }) => sql`(l.company_id = ${company.id}
        and l.account_id = any(${arrayOf(accounts.map((a) => a.id))}::int[])
        and l.year_id = any(${arrayOf(between)}::int[])
        and (l.year_id <> ${from.yearId} or l.period_no >= ${from.no})
        and (l.year_id <> ${to.yearId} or l.period_no <= ${to.no})
        and l.book_id in (0, ${book.id})
    ${asKnownSeq === undefined ? sql`` : sql`and l.seq <= ${asKnownSeq}`} ${sql.join(
      values.map((v) => sql`and k.value_ids && ${arrayOf(v)}::int[]`),
      sql` `,
    )})`,
      ),
    sql` or `,
  );
  const [count] = await rows<{ n: number }>(
    tx,
    sql`select count(*)::int as n from journal_line l join coding k on k.id = l.coding_id where ${where}`,
  );
  const raw = await rows<{
    journalId: bigint;
    lineNo: number;
    companyId: number;
    accountId: number;
    number: string;
    date: string;
    yearId: number;
    periodNo: number;
    typeId: number;
    description: string;
    coding: string;
    side: string;
    amount: bigint;
    currency: string;
    foreignAmount: bigint;
    reversed: boolean;
  }>(
    tx,
    sql`select l.journal_id as "journalId", l.line_no as "lineNo", l.company_id as "companyId",
      l.account_id as "accountId", j.number, l.date, l.year_id as "yearId",
      l.period_no as "periodNo", j.type_id as "typeId", l.description, k.key as coding, l.side,
      l.amount, l.currency, l.foreign_amount as "foreignAmount",
          (d.status = 'reversed' or j.reverses_id is not null) as reversed
        from journal_line l join journal j on j.id = l.journal_id join document d on d.id = j.id
          join coding k on k.id = l.coding_id
        where ${where} order by l.date, l.company_id, l.seq, l.line_no limit ${limit}`,
  );
  const running = new Map(
    figures.map((f) => [`${f.company} ${f.currency}`, { year: 0, balance: f.opening as bigint }]),
  );
  const openingOf = new Map(figures.map((f) => [`${f.company} ${f.currency}`, f.openings]));
  const years = new Map(scopes.flatMap(({ place }) => place.years.map((y) => [y.id, y.name])));
  const lines = raw.map((l): AccountLine => {
    const company = masters.companyById.get(l.companyId)!;
    const account = masters.accountById.get(l.accountId)!;
    const currency =
      amounts === "currency" || account.type === "units" ? l.currency : company.currency;
    const amount = amounts === "currency" ? l.foreignAmount : l.amount;
    const key = `${company.code} ${currency}`;
    const before = running.get(key) ?? { year: l.yearId, balance: 0n };
    // A later year goes on from its own opening: results do not carry over.
    const start =
      before.year === 0 || before.year === l.yearId
        ? before.balance
        : (openingOf.get(key)?.get(l.yearId) ?? 0n);
    const balance = start + (l.side === "D" ? amount : -amount);
    running.set(key, { year: l.yearId, balance });
    return {
      journalId: Number(l.journalId),
      lineNo: l.lineNo,
      company: company.code,
      account: account.number,
      number: l.number,
      date: l.date,
      period: periodKey({ yearName: years.get(l.yearId)!, no: l.periodNo }),
      type: masters.typeById.get(l.typeId)!.name,
      description: l.description,
      dimensions: dimensionsOf(codingFromKey(l.coding), masters),
      side: l.side === "D" ? "debit" : "credit",
      amount: minor(amount),
      currency,
      foreignCurrency: l.currency,
      foreignAmount: minor(l.foreignAmount),
      balance: minor(balance),
      reversed: l.reversed,
    };
  });
  return { lines, count: count!.n };
}
