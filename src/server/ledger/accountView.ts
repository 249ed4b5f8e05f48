import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { codingFromKey, dimensionsOf, NO_CURRENCY, type Side } from "@/core/ledger";
import { periodKey } from "@/core/organisation";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";
import { loadTurnover } from "./balances";
import { branchesOf, findPlace, placeSchema, visibleBranch } from "./trialBalance";

export interface AccountPeriod {
  period: string;
  name: string;
  opening: Minor;
  debit: Minor;
  credit: Minor;
  closing: Minor;
}

export interface AccountLine {
  journalId: number;
  lineNo: number;
  number: string;
  date: string;
  period: string;
  type: string;
  description: string;
  dimensions: Record<string, string>;
  side: Side;
  amount: Minor;
  /** The currency of the journal, and the amount in it. */
  currency: string;
  foreignAmount: Minor;
  /** Balance after this line, debit positive. */
  balance: Minor;
  reversed: boolean;
}

export interface AccountView {
  account: { number: string; name: string; type: string; control: string | null; heading: string };
  company: string;
  companyName: string;
  book: string;
  currency: string;
  from: string;
  period: string;
  periods: AccountPeriod[];
  opening: Minor;
  lines: AccountLine[];
  closing: Minor;
  /** Lines there are in all; more than are given where an account is very busy. */
  lineCount: number;
}

/** As many lines as one look can use; more are reached by choosing fewer periods. */
const MOST_LINES = 5000;

export const accountView = defineUseCase({
  name: "accountView", kind: "read", rights: ["read.ledger", "read.branch"], what: "see accounts", company: (i) => i.company,
  schema: object({ ...placeSchema, account: string().required(), values: array(string().required()).default([]), limit: number().integer().min(1).max(MOST_LINES).default(MOST_LINES) }),
  run: async (context, input): Promise<Result<AccountView>> => {
    const { tx, masters } = context;
    const found = await findPlace(context, input);
    if (!found.ok) return found;
    const { company, book, from, to, years, periods, asKnownSeq } = found.value;
    const account = masters.accountByNumber.get(input.account);
    if (!account) return fail({ code: "ACCOUNT_UNKNOWN", account: input.account, field: "account" });
    const asked = branchesOf(masters, input.values);
    if (!asked.ok) return asked;
    const own = visibleBranch(context, input.company);
    const values = own ? [...asked.value, own] : asked.value;
    const turnover = await loadTurnover(tx, { companyId: company.id, bookId: book.id, yearIds: [to.yearId], withClosing: true, accountIds: [account.id], values, asKnownSeq }, masters, years);
    const byPeriod = new Map<number, { debit: bigint; credit: bigint }>();
    for (const t of turnover) {
      const row = byPeriod.get(t.periodNo) ?? { debit: 0n, credit: 0n };
      byPeriod.set(t.periodNo, { debit: row.debit + t.debit, credit: row.credit + t.credit });
    }
    const start = byPeriod.get(0);
    let balance = start ? start.debit - start.credit : 0n;
    const list = periods.filter((p) => p.yearId === to.yearId).map((p): AccountPeriod => {
      const { debit, credit } = byPeriod.get(p.no) ?? { debit: 0n, credit: 0n };
      const opening = balance;
      balance += debit - credit;
      return { period: periodKey(p), name: p.adjustment ? "Adj." : p.name, opening: minor(opening), debit: minor(debit), credit: minor(credit), closing: minor(balance) };
    });
    const opening = list.find((p) => p.period === periodKey(from))!.opening;
    const where = sql`l.company_id = ${company.id} and l.account_id = ${account.id} and l.year_id = ${to.yearId} and l.period_no between ${from.no} and ${to.no} and l.book_id in (0, ${book.id})
      ${asKnownSeq === undefined ? sql`` : sql`and l.seq <= ${asKnownSeq}`} ${values.length > 0 ? sql`and ${sql.join(values.map((v) => sql`k.value_ids && ${arrayOf(v)}::int[]`), sql` and `)}` : sql``}`;
    const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from journal_line l join coding k on k.id = l.coding_id where ${where}`);
    const raw = await rows<{ journalId: bigint; lineNo: number; number: string; date: string; periodNo: number; typeId: number; description: string; coding: string; side: string; amount: bigint; currency: string; foreignAmount: bigint; reversed: boolean }>(
      tx,
      sql`select l.journal_id as "journalId", l.line_no as "lineNo", j.number, l.date, l.period_no as "periodNo", j.type_id as "typeId", l.description, k.key as coding, l.side, l.amount, l.currency, l.foreign_amount as "foreignAmount",
            (d.status = 'reversed' or j.reverses_id is not null) as reversed
          from journal_line l join journal j on j.id = l.journal_id join document d on d.id = j.id join coding k on k.id = l.coding_id
          where ${where} order by l.date, l.seq, l.line_no limit ${input.limit}`,
    );
    let running: bigint = opening;
    const lines = raw.map((l): AccountLine => {
      running += l.side === "D" ? l.amount : -l.amount;
      return {
        journalId: Number(l.journalId), lineNo: l.lineNo, number: l.number, date: l.date, period: periodKey({ yearName: to.yearName, no: l.periodNo }), type: masters.typeById.get(l.typeId)!.name, description: l.description,
        dimensions: dimensionsOf(codingFromKey(l.coding), masters), side: l.side === "D" ? "debit" : "credit", amount: minor(l.amount), currency: l.currency, foreignAmount: minor(l.foreignAmount), balance: minor(running), reversed: l.reversed,
      };
    });
    return ok({
      account: { number: account.number, name: account.name, type: account.type, control: account.control, heading: masters.headingById.get(account.headingId)?.name ?? "" },
      company: company.code, companyName: company.name, book: book.code, currency: account.type === "units" ? NO_CURRENCY : company.currency, from: periodKey(from), period: periodKey(to),
      periods: list, opening, lines, closing: list.find((p) => p.period === periodKey(to))!.closing, lineCount: count!.n,
    });
  },
});
