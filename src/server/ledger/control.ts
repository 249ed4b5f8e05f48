import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { Area } from "@/core/access";
import type { ControlKind } from "@/core/ledger";
import { minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";
import { loadTurnover } from "./balances";
import { findPlace, placeSchema } from "./trialBalance";

const KINDS: Record<Exclude<Area, "ledger" | "stock">, readonly ControlKind[]> = { payables: ["payables", "GRNI"], receivables: ["receivables"], banks: ["bank"], assets: ["asset"] };

export interface ControlAccounts {
  currency: string;
  accounts: { account: string; name: string; opening: Minor; debit: Minor; credit: Minor; closing: Minor }[];
  /** What stands on the accounts by partner, where their lines name one. */
  partners: { partner: string; balance: Minor; lines: number; last: string }[];
}

/** The control accounts of an area over the periods chosen, and what each partner has on them. */
export const controlAccounts = defineUseCase({
  name: "controlAccounts", kind: "read", rights: ["read.payables", "read.receivables", "read.banks", "read.assets"], what: "see this area", company: (i) => i.company,
  schema: object({ ...placeSchema, area: string().oneOf(["payables", "receivables", "banks", "assets"] as const).required() }),
  run: async (context, input): Promise<Result<ControlAccounts>> => {
    const { tx, masters } = context;
    const area = input.area as keyof typeof KINDS;
    if (!context.may(`read.${area}`, input.company)) return { ok: false, problems: [{ code: "FORBIDDEN", what: `see ${area}` }] };
    const found = await findPlace(context, input);
    if (!found.ok) return found;
    const { company, book, from, to, years, asKnownSeq } = found.value;
    const accounts = masters.accounts.filter((a) => a.control && KINDS[area].includes(a.control));
    const turnover = await loadTurnover(tx, { companyId: company.id, bookId: book.id, yearIds: [to.yearId], accountIds: accounts.map((a) => a.id), upTo: { yearId: to.yearId, no: to.no }, asKnownSeq }, masters, years);
    const partners = await rows<{ partner: string; balance: bigint; lines: number; last: string }>(
      tx,
      sql`select l.partner, sum(case when l.side = 'D' then l.amount else -l.amount end)::bigint as balance, count(*)::int as lines, max(l.date) as last from journal_line l
          where l.company_id = ${company.id} and l.account_id = any(${arrayOf(accounts.map((a) => a.id))}::int[]) and l.partner is not null and l.date <= ${to.end} and l.book_id in (0, ${book.id})
            ${asKnownSeq === undefined ? sql`` : sql`and l.seq <= ${asKnownSeq}`} group by 1 order by abs(sum(case when l.side = 'D' then l.amount else -l.amount end)) desc`,
    );
    return ok({
      currency: company.currency,
      accounts: accounts.map((a) => {
        const own = turnover.filter((t) => t.accountId === a.id);
        const opening = own.filter((t) => t.periodNo < from.no).reduce((n, t) => n + t.debit - t.credit, 0n);
        const debit = own.filter((t) => t.periodNo >= from.no).reduce((n, t) => n + t.debit, 0n);
        const credit = own.filter((t) => t.periodNo >= from.no).reduce((n, t) => n + t.credit, 0n);
        return { account: a.number, name: a.name, opening: minor(opening), debit: minor(debit), credit: minor(credit), closing: minor(opening + debit - credit) };
      }).filter((a) => a.opening !== 0n || a.debit !== 0n || a.credit !== 0n),
      partners: partners.map((p) => ({ ...p, balance: minor(p.balance) })),
    });
  },
});
