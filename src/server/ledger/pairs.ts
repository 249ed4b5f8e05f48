import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { CompanyPair } from "@/core/ledger";
import { minor, ok, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { findPlace } from "./trialBalance";

/** What one company has standing with another, in one currency of transaction. Debit positive. */
export interface PairSide {
  company: string;
  companyName: string;
  /** In its functional currency. */
  functional: Minor;
  functionalCurrency: string;
  foreign: Minor;
}
export interface PairBalance {
  pair: CompanyPair;
  currency: string;
  first: PairSide;
  second: PairSide;
  /** In the currency of the transactions: nothing, where the two agree. */
  difference: Minor;
}

/**
 * Each pair of companies with what either has standing with the other up to a period, by currency
 * of transaction, and by how much they disagree.
 */
export const pairBalances = defineUseCase({
  name: "pairBalances",
  kind: "read",
  rights: ["read.ledger"],
  what: "see what companies owe each other",
  company: (i) => i.company,
  schema: object({ company: string().required(), book: string(), period: string().required() }),
  run: async (context, input): Promise<Result<PairBalance[]>> => {
    const { tx, masters } = context;
    const found = await findPlace(context, input);
    if (!found.ok) return found;
    const { to, book } = found.value;
    const sums = await rows<{
      companyId: number;
      counterpartyId: number;
      currency: string;
      functional: bigint;
      foreign: bigint;
    }>(
      tx,
      sql`select l.company_id as "companyId", l.counterparty_id as "counterpartyId", l.currency,
        sum(case when l.side = 'D' then l.amount else -l.amount end)::bigint as functional,
        sum(case when l.side = 'D' then l.foreign_amount
        else -l.foreign_amount end)::bigint as "foreign"
          from journal_line l where l.counterparty_id is not null and l.date <= ${to.end}
            and l.book_id in (0, ${book.id}) and l.account_id in (select id from account
            where control = 'intercompany') group by 1, 2, 3`,
    );
    const side = (code: string, other: string, currency: string): PairSide => {
      const company = masters.companyByCode.get(code)!;
      const row = sums.find(
        (s) =>
          s.companyId === company.id &&
          s.counterpartyId === masters.companyByCode.get(other)!.id &&
          s.currency === currency,
      );
      return {
        company: code,
        companyName: company.name,
        functionalCurrency: company.currency,
        functional: minor(row?.functional ?? 0n),
        foreign: minor(row?.foreign ?? 0n),
      };
    };
    return ok(
      masters.pairs
        .filter((p) => context.may("read.ledger", p.first) || context.may("read.ledger", p.second))
        .flatMap((pair) => {
          const ids = [
            masters.companyByCode.get(pair.first)!.id,
            masters.companyByCode.get(pair.second)!.id,
          ];
          const currencies = [
            ...new Set(
              sums
                .filter((s) => ids.includes(s.companyId) && ids.includes(s.counterpartyId))
                .map((s) => s.currency),
            ),
          ].sort();
          return currencies.map((currency): PairBalance => {
            const [first, second] = [
              side(pair.first, pair.second, currency),
              side(pair.second, pair.first, currency),
            ];
            return {
              pair,
              currency,
              first,
              second,
              difference: minor(first.foreign + second.foreign),
            };
          });
        }),
    );
  },
});

export const listPairs = defineUseCase({
  name: "listPairs",
  kind: "read",
  rights: ["read.ledger", "read.setup", "setup.organisation"],
  what: "see partners in trade",
  of: "shared",
  schema: object(),
  run: async ({ masters }) => ok([...masters.pairs]),
});
