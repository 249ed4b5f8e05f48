import { sql } from "drizzle-orm";
import type { KeptCandidate, LineOutcome } from "@/core/banks";
import { matchLines, type Candidate, type LineMatch } from "@/core/banks/matching";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { rulesInUse } from "./lineRuleRows";
import {
  carriedOut,
  itemsToMatch,
  kindsToMatch,
  lessSpokenFor,
  linesToMatch,
  oneSidedLines,
  partnersToMatch,
  spokenFor,
  type OpenLine,
} from "./matchFacts";

interface Bank {
  id: number;
  companyId: number;
  currency: string;
}

/**
 * Explains the lines of bank accounts that nobody has decided on, and keeps what was found with
 * them. Accounts of one company are looked at together, so that no item is proposed twice. Returns
 * how many are certain.
 */
export async function matchOpenLines(
  context: Context,
  accounts: readonly number[],
): Promise<number> {
  const { tx } = context;
  const banks = await rows<Bank>(
    tx,
    sql`select id, company_id as "companyId", currency from bank_account
      where company_id in (select company_id from bank_account
        where id = any(${arrayOf(accounts)}::int[])) order by id`,
  );
  const kinds = await kindsToMatch(tx);
  const partners = await partnersToMatch(tx);
  const own = await rows<Bank & { code: string; iban: string; number: string }>(
    tx,
    sql`select id, company_id as "companyId", currency, code, iban, number from bank_account
      where iban <> '' or number <> '' order by id`,
  );
  let certain = 0;
  for (const companyId of new Set(banks.map((b) => b.companyId))) {
    const ofCompany = banks.filter((b) => b.companyId === companyId);
    const rules = await rulesInUse(tx, companyId);
    const taken = await spokenFor(tx, [companyId]);
    for (const currency of new Set(ofCompany.map((b) => b.currency))) {
      const of = ofCompany.filter((b) => b.currency === currency);
      const ids = of.map((b) => b.id);
      const lines = await linesToMatch(tx, ids);
      if (lines.length === 0) continue;
      const items = await itemsToMatch(tx, { id: companyId, currency });
      if (lines.some((l) => l.isReturn))
        items.push(...(await carriedOut(tx, { id: companyId, currency })));
      const found = matchLines({
        lines,
        items: lessSpokenFor(items, taken),
        partners,
        kinds,
        rules,
        ownAccounts: own.map((o) => ({
          account: o.iban || o.number,
          bank: o.id,
          code: o.code,
          isNear: o.companyId === companyId && o.currency === currency,
        })),
        oneSided: await oneSidedLines(tx, ids),
      });
      await keepMatches(context, lines, found);
      certain += found.filter((f) => f.verdict === "certain").length;
    }
  }
  return certain;
}

export const keptCandidate = (c: Candidate): KeptCandidate => ({
  takes: c.takes.map((t) => ({
    item: t.item,
    amount: String(t.amount),
    discount: String(t.discount),
  })),
  partner: c.partner,
  kind: c.kind,
  coding: c.coding,
  transfer: c.transfer,
  rest: String(c.rest),
  score: c.score,
  reasons: [...c.reasons],
});

/** What a line would be posted as where an explanation is taken as it stands. */
export const outcomeOf = (c: KeptCandidate): LineOutcome => ({
  takes: c.takes,
  partner: c.partner,
  kind: c.kind,
  coding: c.coding ?? null,
  rest: c.rest,
  transfer: c.transfer ?? null,
  onAccount: c.kind === "" && !c.coding && !c.transfer && c.rest !== "0" && !c.rest.startsWith("-"),
});

async function keepMatches(
  { tx }: Context,
  lines: readonly OpenLine[],
  found: readonly LineMatch[],
): Promise<void> {
  // What nothing is known of stays as it is: most lines of a large file, and no version is counted up
  // under somebody's eyes.
  const known = new Set(lines.filter((l) => l.isKnown).map((l) => l.id));
  const changed = found.filter((f) => f.candidates.length > 0 || f.but !== "" || known.has(f.line));
  if (changed.length === 0) return;
  const kept = changed.map((f) => {
    const candidates = f.candidates.map(keptCandidate);
    return {
      id: f.line,
      state: f.verdict,
      but: f.but,
      candidates,
      outcome: f.verdict === "certain" ? outcomeOf(candidates[0]!) : null,
    };
  });
  await tx.execute(
    sql`update statement_line l set state = x.state, but = x.but, candidates = x.candidates,
        outcome = x.outcome, version = version + 1
      from jsonb_to_recordset(${JSON.stringify(kept)}::jsonb)
        as x(id bigint, state text, but text, candidates jsonb, outcome jsonb)
      where l.id = x.id and (l.state, l.but, l.candidates, l.outcome)
        is distinct from (x.state, x.but, x.candidates, x.outcome)`,
  );
}
