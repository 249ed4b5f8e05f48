import { sql } from "drizzle-orm";
import { periodName } from "@/core/organisation";
import { dateText } from "@/core/shared";
import { arrayOf, rows } from "../db";
import type { CloseCheckKind } from "../checks";
import { periodBalancesDiffer } from "./verify/balances";

export const noDrafts: CloseCheckKind = {
  code: "drafts",
  name: "No drafts dated in the period",
  async look({ tx }, { company, from, to, query }) {
    const drafts = await rows<{ id: bigint; title: string }>(
      tx,
      sql`select id, title from document where kind = 'journal' and status in ('draft', 'waiting')
        and company_id = ${company.id} and date between ${from} and ${to} order by date`,
    );
    return {
      state: drafts.length === 0 ? "holds" : "fails",
      finding:
        drafts.length === 0
          ? `Nothing unposted between ${dateText(from)} and ${dateText(to)}.`
          : `${drafts.length === 1 ? "One draft waits" : `${drafts.length} drafts wait`}: ${drafts
              .slice(0, 3)
              .map((d) => d.title)
              .join("; ")}${drafts.length > 3 ? " …" : ""}.`,
      door:
        drafts.length === 0
          ? null
          : drafts.length === 1
            ? `/ledger/journals/${drafts[0]!.id}?${query}`
            : `/ledger/journals?${query}&status=draft`,
    };
  },
};

/**
 * What was computed once for a company need not be computed again for each of its books in the same
 * transaction.
 */
const balanceFindings = new WeakMap<object, Map<number, number>>();

export const balancesEqualLines: CloseCheckKind = {
  code: "balances",
  name: "Balances equal the journal lines",
  async look({ tx }, { company, closing, last, query }) {
    const memo = balanceFindings.get(tx) ?? new Map<number, number>();
    balanceFindings.set(tx, memo);
    const differences =
      memo.get(company.id) ?? (await periodBalancesDiffer(tx, company.id, closing));
    memo.set(company.id, differences);
    return {
      state: differences === 0 ? "holds" : "fails",
      finding:
        differences === 0
          ? `The stored balances of ${closing.length === 1 ? periodName(last) : `${closing.length} periods`} were rebuilt from the lines, and agree.`
          : `${differences} balances differ from the lines they are made of. Run verify before anything else.`,
      door: differences === 0 ? null : `/close/verify?${query}`,
    };
  },
};

export const partnersNamed: CloseCheckKind = {
  code: "control",
  name: "Control accounts name their partners",
  async look({ tx }, { company, closing, query }) {
    const nameless = await rows<{ account: string; n: number }>(
      tx,
      sql`select a.number as account, count(*)::int as n from journal_line l
        join account a on a.id = l.account_id
          where l.company_id = ${company.id} and l.account_id in (select id from account
            where control in ('payables', 'receivables', 'intercompany'))
            and l.year_id = any(${arrayOf(closing.map((p) => p.yearId))}::int[])
            and l.period_no = any(${arrayOf(closing.map((p) => p.no))}::smallint[])
            and l.partner is null and l.counterparty_id is null group by 1 order by 1`,
    );
    return {
      state: nameless.length === 0 ? "holds" : "warns",
      finding:
        nameless.length === 0
          ? "Every line on suppliers, customers and group accounts belongs to somebody."
          : `${nameless.map((n) => `${n.n} ${n.n === 1 ? "line" : "lines"} on ${n.account}`).join(", ")} without a partner.`,
      door: nameless.length === 0 ? null : `/ledger/accounts/${nameless[0]!.account}?${query}`,
    };
  },
};
