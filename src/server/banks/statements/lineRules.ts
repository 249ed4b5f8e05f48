import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  lineRuleSchema,
  type LineOutcome,
  type LineRuleInput,
  type LineState,
  type RuleOutcomeKind,
} from "@/core/banks";
import { meansLine, type LineRule } from "@/core/banks/matching";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { codedAmount, codingFacts, writtenCoding } from "../codings";
import { codedKind, readKinds } from "./lineFacts";
import { RULE_COLUMNS, type KeptRule, type LineRuleRow } from "./lineRuleRows";
import { matchOpenLines } from "./matchOpenLines";

export const listLineRules = defineUseCase({
  name: "listLineRules",
  kind: "read",
  rights: ["read.banks"],
  what: "see rules for bank lines",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx }, input): Promise<Result<LineRuleRow[]>> =>
    ok(
      await rows<KeptRule>(
        tx,
        sql`select ${RULE_COLUMNS} where c.code = ${input.company} order by r.place, r.id`,
      ),
    ),
});

/** Adds or changes a rule. One that is in use is asked at once for all lines nobody has decided on. */
export const saveLineRule = defineUseCase({
  name: "saveLineRule",
  kind: "write",
  rights: ["post.banks"],
  what: "change rules for bank lines",
  company: (i) => i.company,
  schema: lineRuleSchema,
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters, audit } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const banks = await rows<{ id: number; code: string }>(
      tx,
      sql`select id, code from bank_account where company_id = ${company.id} order by code`,
    );
    const bank = banks.find((b) => b.code === input.bank);
    if (input.bank !== "" && !bank)
      return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}`, field: "bank" });
    const outcome = await readOutcome(context, input);
    if (!outcome.ok) return outcome;
    const [before] =
      input.id === undefined
        ? []
        : await rows<KeptRule>(
            tx,
            sql`select ${RULE_COLUMNS} where r.id = ${input.id}::bigint for update of r`,
          );
    if (input.id !== undefined && before?.companyId !== company.id)
      return fail({ code: "NOT_FOUND", what: "such rule" });
    if (before && before.version !== input.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    const [same] = await rows<{ id: number }>(
      tx,
      sql`select id from line_rule where company_id = ${company.id} and name = ${input.name}
        and id <> ${input.id ?? 0}::bigint`,
    );
    if (same) return fail({ code: "EXISTS", what: `Rule ${input.name}`, field: "name" });
    const columns = sql`company_id, name, place, bank_account_id, text, party, code, side, "from",
      "to", outcome, in_use`;
    const values = sql`${company.id}, ${input.name}, ${input.place}, ${bank?.id ?? null}::int,
      ${input.text}, ${input.party}, ${input.code}, ${input.side}, ${input.from}, ${input.to},
      ${JSON.stringify(outcome.value)}::jsonb, ${input.inUse}`;
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update line_rule set (${columns}) = (${values}), version = version + 1
            where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into line_rule (${columns}) values (${values}) returning id`,
        );
    await audit({
      action: before ? "changed" : "added",
      kind: "rule for bank lines",
      recordId: saved!.id,
      label: input.name,
      companyId: company.id,
      before,
      after: input,
    });
    if (input.inUse || before?.inUse)
      await matchOpenLines(
        context,
        banks.map((b) => b.id),
      );
    return ok({ id: saved!.id });
  },
});

/** What a rule makes of lines, where that can be. */
async function readOutcome(
  context: Context,
  input: LineRuleInput,
): Promise<Result<LineRule["outcome"]>> {
  const { tx, today } = context;
  const is: RuleOutcomeKind = input.outcome;
  if (is === "leave") return ok({ is });
  if (is === "kind") {
    const kind = await codedKind(tx, input.kind);
    return kind.ok ? ok({ is, kind: kind.value.code }) : kind;
  }
  if (is === "partner") {
    const [partner] = await rows<{ code: string }>(
      tx,
      sql`select code from partner where code = ${input.partner}`,
    );
    return partner
      ? ok({ is, partner: partner.code })
      : fail({ code: "NOT_FOUND", what: `partner ${input.partner}`, field: "partner" });
  }
  if (input.account === "")
    return fail({ code: "REQUIRED", what: "The account", field: "account" });
  const coding = writtenCoding({ ...input, text: "" });
  const company = context.masters.companyByCode.get(input.company)!;
  // Which amounts it will mean, in which currency and with which usual values, shows only then; a large
  // one has room for shares of fixed amounts.
  const on = { booked: today, currency: company.currency, usual: {} };
  const made = codedAmount(
    context,
    coding,
    minor(10n ** 12n),
    on,
    await codingFacts(context, input.company),
  );
  return made.ok ? ok({ is, coding }) : made;
}

/** A line that a rule means, with what it is now and what the rule makes of it. */
export interface RuleTrialLine {
  id: number;
  booked: CalendarDate;
  text: string;
  amount: Minor;
  currency: string;
  state: LineState;
  /** What it was decided or posted as; what the rules see in it where nobody has decided. */
  now: string;
  differs: boolean;
}

export interface RuleTrial {
  looked: number;
  /** Lines that it means, the newest first; at most 100 of them are shown. */
  fits: number;
  differs: number;
  lines: RuleTrialLine[];
}

/** What a rule would make of the lines of the last year: nothing is changed. */
export const tryLineRule = defineUseCase({
  name: "tryLineRule",
  kind: "read",
  rights: ["read.banks"],
  what: "see rules for bank lines",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<RuleTrial>> => {
    const { tx, today, may } = context;
    const [rule] = await rows<KeptRule>(
      tx,
      sql`select ${RULE_COLUMNS} where r.id = ${input.id}::bigint`,
    );
    if (!rule) return fail({ code: "NOT_FOUND", what: "such rule" });
    if (!may("read.banks", rule.company))
      return fail({ code: "FORBIDDEN", what: `see rules of ${rule.company}` });
    const lines = await rows<{
      id: bigint;
      bank: number;
      booked: string;
      text: string;
      name: string;
      code: string;
      amount: bigint;
      currency: string;
      state: LineState;
      outcome: LineOutcome | null;
    }>(
      tx,
      sql`select l.id, l.bank_account_id as bank, l.booked, l.text, l.party_name as name, l.code,
          l.amount, s.currency, l.state, l.outcome
        from statement_line l join bank_statement s on s.id = l.statement_id
        where l.company_id = ${rule.companyId} and l.booked > ${today}::date - 366
        order by l.booked desc, l.id desc`,
    );
    const kinds = await readKinds(tx);
    const meant = lines.filter((l) =>
      meansLine(
        { ...rule, bank: rule.bankId },
        { ...l, amount: minor(l.amount), party: { name: l.name } },
      ),
    );
    const shown = meant.map((l): RuleTrialLine => {
      const isDecided = l.outcome !== null && (l.state === "chosen" || l.state === "posted");
      return {
        id: Number(l.id),
        booked: l.booked,
        text: l.text || l.name,
        amount: minor(l.amount),
        currency: l.currency,
        state: l.state,
        now: l.outcome ? outcomeWords(l.outcome, kinds) : "nothing yet",
        differs: isDecided && !isSame(l.outcome!, rule.outcome),
      };
    });
    return ok({
      looked: lines.length,
      fits: shown.length,
      differs: shown.filter((l) => l.differs).length,
      lines: shown.slice(0, 100),
    });
  },
});

function outcomeWords(
  o: LineOutcome,
  kinds: ReadonlyMap<string, { name: string; account: string }>,
): string {
  if (o.coding) return `account ${o.coding.account}`;
  if (o.kind) return kinds.get(o.kind)?.name ?? o.kind;
  return o.partner ? `items of ${o.partner}` : "money under way";
}

function isSame(decided: LineOutcome, rule: LineRule["outcome"]): boolean {
  switch (rule.is) {
    case "leave":
      return true;
    case "partner":
      return decided.partner === rule.partner;
    case "kind":
      return decided.kind === rule.kind;
    case "coding":
      return decided.coding?.account === rule.coding.account;
  }
}
