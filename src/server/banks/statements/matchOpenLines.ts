import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { KeptCandidate, LineOutcome } from "@/core/banks";
import { matchLines, type Candidate, type LineMatch, type MatchFacts } from "@/core/banks/matching";
import { fail, ok } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows, type Db } from "../../db";
import { askForJob, defineJobKind } from "../../jobs";
import { expectedAtBank } from "./expectedAtBank";
import { exchangedFacts } from "./exchangedFacts";
import { rulesInUse } from "./lineRuleRows";
import {
  carriedOut,
  itemsToMatch,
  kindsToMatch,
  lessSpokenFor,
  linesToMatch,
  oneSidedLines,
  ownAccountsToMatch,
  partnersToMatch,
  rememberedLines,
  spokenFor,
  type OpenLine,
} from "./matchFacts";

/** So many lines are matched with the request that brings them; more are a job. */
export const MATCHED_AT_ONCE = 2000;
/** Lines whose matches are kept in one transaction, where a job does it. */
const PART = 5000;

/** Bank accounts of a company in one currency, whose lines are looked at together. */
interface Group {
  companyId: number;
  company: string;
  currency: string;
  accounts: number[];
}

/**
 * Explains the lines of bank accounts that nobody has decided on, and keeps what was found with
 * them. Accounts of one company are looked at together, so that no item is proposed twice. Returns
 * how many are certain; null where there are so many lines that a job does it.
 */
export async function matchOpenLines(
  context: Context,
  accounts: readonly number[],
): Promise<number | null> {
  const groups = await groupsOf(context.tx, accounts);
  const open = await openByCompany(context.tx, accounts);
  if (open.some((o) => o.lines > MATCHED_AT_ONCE)) {
    for (const o of open) await askForMatching(context, o);
    return null;
  }
  let certain = 0;
  for (const group of groups) {
    const read = await factsOf(context, group, "held");
    if (!read) continue;
    const found = matchLines(read.facts);
    await keepMatches(context.tx, changedOf(read.lines, found));
    certain += found.filter((f) => f.verdict === "certain").length;
  }
  return certain;
}

/** A job of matching for a company, where none waits already. */
async function askForMatching(
  context: Context,
  { company, lines }: { company: string; lines: number },
): Promise<void> {
  const alone = `match ${company}`;
  const [waiting] = await rows<{ id: number }>(
    context.tx,
    sql`select id::int as id from job where alone = ${alone} and state = 'waiting' limit 1`,
  );
  if (waiting) return;
  await askForJob(context, {
    kind: "match-lines",
    company,
    title: `Bank lines of ${company}`,
    page: "/banks/lines",
    params: { company },
    alone,
    total: lines,
  });
}

/**
 * Matches the open lines of a company: what there is is read in one transaction, compared in none,
 * and kept in several, but for lines that somebody has decided on meanwhile.
 */
export const matchLinesJob = defineJobKind({
  id: "match-lines",
  schema: object({ company: string().required() }),
  async work(job) {
    const groups = await job.step(async ({ tx, masters, may }) => {
      const { company } = job.params;
      const found = masters.companyByCode.get(company);
      const mayMatch = may("prepare.banks", company) || may("post.banks", company);
      if (!found || !mayMatch)
        return fail({ code: "FORBIDDEN", what: `match bank statements of ${company}` });
      const banks = await rows<{ id: number }>(
        tx,
        sql`select id from bank_account where company_id = ${found.id} order by id`,
      );
      const accounts = banks.map((b) => b.id);
      return ok({ groups: await groupsOf(tx, accounts) });
    });
    if (!groups.ok) return groups;
    let done = 0;
    for (const group of groups.value.groups) {
      const read = await job.step(async (context) => ok(await factsOf(context, group, "seen")));
      if (!read.ok) return read;
      if (!read.value) continue;
      const { lines, facts } = read.value;
      const changed = changedOf(lines, matchLines(facts));
      done += lines.length - changed.length;
      for (let at = 0; at < changed.length; at += PART) {
        const part = changed.slice(at, at + PART);
        done += part.length;
        const kept = await job.step(async ({ tx }) => {
          await keepMatches(tx, part);
          return ok({ done });
        });
        if (!kept.ok) return kept;
      }
    }
    return ok({});
  },
  /** What is matched stays matched; the next time goes on. */
  over: () => Promise.resolve(),
});

const openByCompany = (tx: Db, accounts: readonly number[]) =>
  rows<{ company: string; lines: number }>(
    tx,
    sql`select c.code as company, count(*)::int as lines from statement_line l
      join company c on c.id = l.company_id
      where l.company_id in (select company_id from bank_account
          where id = any(${arrayOf(accounts)}::int[]))
        and l.state in ('certain', 'to decide', 'unexplained') group by c.code order by c.code`,
  );

const groupsOf = (tx: Db, accounts: readonly number[]): Promise<Group[]> =>
  rows<Group>(
    tx,
    sql`select c.id as "companyId", c.code as company, b.currency,
        jsonb_agg(b.id order by b.id) as accounts
      from bank_account b join company c on c.id = b.company_id
      where c.id in (select company_id from bank_account
        where id = any(${arrayOf(accounts)}::int[]))
      group by c.id, b.currency order by c.id, b.currency`,
  );

/**
 * All that the matching of a group needs, where it has open lines: held until the transaction ends,
 * or only seen.
 */
async function factsOf(
  context: Context,
  { companyId, company, currency, accounts }: Group,
  how: "held" | "seen",
): Promise<{ facts: MatchFacts; lines: OpenLine[] } | null> {
  const { tx, masters } = context;
  const lines = await linesToMatch(tx, accounts, how === "held");
  if (lines.length === 0) return null;
  const own = await ownAccountsToMatch(tx);
  const items = await itemsToMatch(tx, { id: companyId, currency });
  if (lines.some((l) => l.isReturn))
    items.push(...(await carriedOut(tx, { id: companyId, currency })));
  const facts = {
    lines,
    items: lessSpokenFor(items, await spokenFor(tx, [companyId])),
    partners: await partnersToMatch(tx),
    kinds: await kindsToMatch(tx),
    rules: await rulesInUse(tx, companyId),
    remembered: await rememberedLines(tx, companyId),
    expected: await expectedAtBank(context, { companyId, company, currency }, lines),
    ownAccounts: own.map((o) => ({
      account: o.iban || o.number,
      bank: o.id,
      code: o.code,
      isNear: o.companyId === companyId && o.currency === currency,
      isExchange: o.companyId === companyId && o.currency !== currency,
      facing: o.currency === currency && masters.pair(company, o.company) ? o.company : "",
    })),
    oneSided: await oneSidedLines(tx, accounts),
    ...(await exchangedFacts(context, { companyId, company, currency }, lines, own)),
  };
  return { facts, lines };
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
  ...(c.onAccount ? { onAccount: true } : {}),
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

/** What is found of a line, as it is kept with it. */
interface KeptMatch {
  id: number;
  version: number;
  state: string;
  but: string;
  candidates: KeptCandidate[];
  outcome: LineOutcome | null;
}

/**
 * What has to be kept. What nothing is known of stays as it is: most lines of a large file, and no
 * version is counted up under somebody's eyes.
 */
function changedOf(lines: readonly OpenLine[], found: readonly LineMatch[]): KeptMatch[] {
  const of = new Map(lines.map((l) => [l.id, l]));
  return found.flatMap((f) => {
    const line = of.get(f.line)!;
    if (f.candidates.length === 0 && f.but === "" && !line.isKnown) return [];
    const candidates = f.candidates.map(keptCandidate);
    return [
      {
        id: f.line,
        version: line.version,
        state: f.verdict,
        but: f.but,
        candidates,
        outcome: f.verdict === "certain" ? outcomeOf(candidates[0]!) : null,
      },
    ];
  });
}

/** Keeps matches with their lines, but for those that have changed since they were read. */
async function keepMatches(tx: Db, kept: readonly KeptMatch[]): Promise<void> {
  if (kept.length === 0) return;
  await tx.execute(
    sql`update statement_line l set state = x.state, but = x.but, candidates = x.candidates,
        outcome = x.outcome, version = l.version + 1
      from jsonb_to_recordset(${JSON.stringify(kept)}::jsonb)
        as x(id bigint, version int, state text, but text, candidates jsonb, outcome jsonb)
      where l.id = x.id and l.version = x.version
        and (l.state, l.but, l.candidates, l.outcome)
          is distinct from (x.state, x.but, x.candidates, x.outcome)`,
  );
}
