import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import type { JournalDraft } from "@/core/ledger";
import type { RunItem } from "@/core/runs";
import {
  applyRules,
  cleanUpRuleSchema,
  partOfLeftover,
  percentOfInvoiced,
  ruleProblems,
  type CleanUpRule,
  type Leftover,
} from "@/core/purchasing";
import {
  amountText,
  dateText,
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { rows, type Db, readSetting } from "../db";
import { defineUseCase, type Context } from "../access";
import { loadPeriods } from "../organisation";
import { defineRunKind, releaseItems } from "../runs";
import { grniAccount, storeEntries, undoEntries, type EntryToStore } from "./grniEntries";
import { leftovers } from "./grni";

export const readCleanUpRules = (tx: Db): Promise<(CleanUpRule & { id: number })[]> =>
  rows(
    tx,
    sql`select id, place, name, company, conditions, action, account, dimensions, active
      from clean_up_rule order by place, id`,
  );

async function known({ tx, masters }: Context): Promise<Parameters<typeof ruleProblems>[1]> {
  return {
    suppliers: new Set(
      (await rows<{ code: string }>(tx, sql`select code from partner where supplier`)).map(
        (p) => p.code,
      ),
    ),
    accounts: new Set(
      masters.accounts
        .filter((a) => !a.control && !a.blocked && a.type !== "units")
        .map((a) => a.number),
    ),
    currency: masters.companies[0]?.currency ?? "EUR",
  };
}

export const listCleanUpRules = defineUseCase({
  name: "listCleanUpRules",
  kind: "read",
  rights: ["read.payables"],
  what: "see clean-up rules",
  of: "shared",
  schema: object(),
  run: async (
    context,
  ): Promise<Result<{ rule: CleanUpRule & { id: number }; problems: Found[] }[]>> => {
    const facts = await known(context);
    return ok(
      (await readCleanUpRules(context.tx)).map((rule) => ({
        rule,
        problems: ruleProblems(rule, facts),
      })),
    );
  },
});

export const saveCleanUpRule = defineUseCase({
  name: "saveCleanUpRule",
  kind: "write",
  rights: ["setup.rules"],
  what: "change clean-up rules",
  of: "group",
  schema: cleanUpRuleSchema,
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, audit } = context;
    const rule = input as CleanUpRule;
    const problems = ruleProblems(rule, await known(context));
    if (rule.company !== null && !context.masters.companyByCode.has(rule.company))
      problems.push({ code: "COMPANY_UNKNOWN", company: rule.company, field: "company" });
    const [first, ...others] = problems;
    if (first) return fail(first, ...others);
    const before = (await readCleanUpRules(tx)).find((r) => r.id === rule.id);
    const values = sql`${rule.place}, ${rule.name}, ${rule.company},
      ${JSON.stringify(rule.conditions)}::jsonb, ${rule.action}, ${rule.account},
      ${JSON.stringify(rule.dimensions)}::jsonb, ${rule.active}`;
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update clean_up_rule set (place, name, company, conditions, action, account,
            dimensions, active) = (${values}) where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into clean_up_rule (place, name, company, conditions, action, account,
            dimensions, active) values (${values}) returning id`,
        );
    await audit({
      action: before ? "changed" : "added",
      kind: "clean-up rule",
      recordId: saved!.id,
      label: rule.name,
      before,
      after: rule,
    });
    return ok({ id: saved!.id });
  },
});

export const deleteCleanUpRule = defineUseCase({
  name: "deleteCleanUpRule",
  kind: "write",
  rights: ["setup.rules"],
  what: "change clean-up rules",
  of: "group",
  schema: object({ id: number().integer().required() }),
  run: async ({ tx, audit }, input) => {
    const before = (await readCleanUpRules(tx)).find((r) => r.id === input.id);
    if (!before) return fail({ code: "NOT_FOUND", what: "such rule" });
    await tx.execute(sql`delete from clean_up_rule where id = ${input.id}`);
    await audit({
      action: "removed",
      kind: "clean-up rule",
      recordId: input.id,
      label: before.name,
      before,
    });
    return ok({});
  },
});

export interface RuleTrial {
  problems: Found[];
  takes: { leftover: Leftover; why: string; also: string[] }[];
  /** What it would take if it stood alone but an earlier rule takes. */
  before: { leftover: Leftover; rule: string }[];
}

/**
 * What a rule, saved or as written, would take of today's leftovers and why; what earlier rules
 * take before it; and what is wrong with it.
 */
export const tryCleanUpRule = defineUseCase({
  name: "tryCleanUpRule",
  kind: "read",
  rights: ["read.payables"],
  what: "try clean-up rules",
  company: (i) => i.company,
  schema: object({ company: string().required(), rule: cleanUpRuleSchema.required() }),
  run: async (context, input): Promise<Result<RuleTrial>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const rule = { ...(input.rule as CleanUpRule), id: input.rule.id ?? 0 };
    const problems = ruleProblems(rule, await known(context));
    if (problems.length > 0) return ok({ problems, takes: [], before: [] });
    const lines = await leftovers(context, company.id, context.today);
    const others = (await readCleanUpRules(context.tx)).filter((r) => r.id !== rule.id);
    const all = applyRules(lines, [...others, rule], company.currency);
    const alone = new Set(
      applyRules(lines, [rule], company.currency).map((t) => t.leftover.receiptLine),
    );
    return ok({
      problems: [],
      takes: all
        .filter((t) => t.rule.id === rule.id)
        .map(({ leftover, why, also }) => ({ leftover, why, also })),
      before: all
        .filter((t) => t.rule.id !== rule.id && alone.has(t.leftover.receiptLine))
        .map((t) => ({ leftover: t.leftover, rule: t.rule.name })),
    });
  },
});

/** What a person has written off in a company on the day of the act, over all runs. */
async function writtenOffToday({ tx, person, now }: Context, companyId: number): Promise<bigint> {
  const [found] = await rows<{ sum: bigint }>(
    tx,
    sql`select coalesce(sum(abs(functional)), 0)::bigint as sum from grni_entry
      where company_id = ${companyId} and kind = 'cleaned' and made_by = ${person.id}
        and (made_at at time zone 'UTC')::date = ${now.toISOString().slice(0, 10)}::date`,
  );
  return found!.sum;
}

/**
 * How much each role may write off on a day, in the company's currency: from the settings, else
 * nothing beyond the controller.
 */
async function limitOf({ tx, person, masters }: Context, company: string): Promise<Minor | null> {
  const { currency } = masters.companyByCode.get(company)!;
  const limits = (await readSetting<Record<string, string>>(tx, "cleanUp.limits")) ?? {
    payables: "500.00",
  };
  const own = person.grants
    .filter((g) => g.company === null || g.company === company)
    .map((g) => g.role);
  if (own.includes("controller")) return null;
  return own.reduce<Minor>((most, role) => {
    const read = readAmount(limits[role] ?? "0", currency);
    return read.ok && read.amount > most ? read.amount : most;
  }, minor(0n));
}

const schema = object({
  company: string().required(),
  date: string().required("The day is missing"),
  /** By the rules, or what a person has chosen. */
  lines: array(number().integer().required()).max(20_000).default([]),
  reason: string().trim().default("").max(200),
});

export const cleanUpRun = defineRunKind({
  id: "clean-up",
  right: "post.payables",
  approved: "as one",
  schema,
  async propose(context, params, overrides) {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(params.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
    if (!isCalendarDate(params.date))
      return fail({ code: "DATE_INVALID", text: params.date, field: "date" });
    const byHand = params.lines.length > 0;
    if (byHand && params.reason.length < 5)
      return fail({ code: "REASON_REQUIRED", field: "reason" });
    const period = (await loadPeriods(tx, [company.id])).find(
      (p) => !p.adjustment && p.start <= params.date && params.date <= p.end,
    );
    if (!period)
      return fail({
        code: "PERIOD_MISSING",
        date: dateText(params.date),
        company: company.name,
        field: "date",
      });
    const grni = grniAccount(masters);
    if (!grni) return fail({ code: "PURPOSE_MISSING", purpose: "goods received and not invoiced" });
    const lines = await leftovers(context, company.id, params.date, {
      only: params.lines,
      standing: true,
    });
    const decisions = byHand
      ? lines.map((leftover) => ({
          leftover,
          why: params.reason,
          also: [] as string[],
          action: "coding",
          name: "",
          account: leftover.account,
          dimensions: leftover.dimensions,
        }))
      : applyRules(lines, await readCleanUpRules(tx), company.currency).map((d) => ({
          leftover: d.leftover,
          why: `${d.rule.name}: ${d.why}`,
          also: d.also,
          action: d.rule.action,
          name: d.rule.name,
          ...(d.rule.action === "account"
            ? {
                account: d.rule.account,
                dimensions:
                  Object.keys(d.rule.dimensions).length > 0
                    ? d.rule.dimensions
                    : d.leftover.dimensions,
              }
            : { account: d.leftover.account, dimensions: d.leftover.dimensions }),
        }));
    if (decisions.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: byHand
          ? "leftover among those chosen"
          : `leftover that a rule takes on ${dateText(params.date)}`,
      });
    const dropped = new Set(overrides.dropped);
    const items: RunItem[] = [];
    const lineDrafts: JournalDraft["lines"][number][] = [];
    const written: Written[] = [];
    let total = 0n;
    for (const d of decisions) {
      const l = d.leftover;
      const key = `line|${l.receiptLine}`;
      const typed = overrides.amounts[`part|${l.receiptLine}`] ?? "";
      const part = partOfLeftover(l.leftover, typed, company.currency);
      const asks = d.action === "ask" && typed === "";
      const leftOut = asks
        ? "its rule puts it before a person: type the amount to write it off"
        : part.ok
          ? undefined
          : "the amount cannot be written off";
      items.push({
        key,
        group: l.supplierName,
        label: `${l.receipt} ${l.description}`.trim(),
        amount: part.ok ? part.value : l.leftover,
        why: `${d.why}${d.also.length > 0 ? ` (before ${d.also.join(", ")})` : ""}`,
        droppable: true,
        ...(leftOut === undefined ? { drafts: [0] } : { leftOut }),
        asks: [
          {
            key: `part|${l.receiptLine}`,
            label: "Write off only",
            currency: company.currency,
            given: typed,
            optional: !asks,
          },
        ],
        explanation: {
          title: `${l.receipt} of ${dateText(l.date)}`,
          steps: [
            { label: "Received", amount: l.received },
            { label: "Invoiced", amount: minor(-l.invoiced) },
            { label: "Cleaned up before", amount: minor(l.leftover - l.received + l.invoiced) },
            { label: "Leftover", amount: l.leftover, total: true },
            { label: "of what was invoiced", text: `${percentOfInvoiced(l).toFixed()} %` },
            { label: `To ${d.account}`, text: Object.values(d.dimensions).join(" · ") },
          ],
        },
      });
      if (leftOut !== undefined || !part.ok || dropped.has(key)) continue;
      const amount = part.value;
      total += amount;
      written.push({
        receiptLine: l.receiptLine,
        amount,
        account: d.account,
        dimensions: d.dimensions,
        reason: byHand ? params.reason : d.name,
      });
      const size = minor(amount < 0n ? -amount : amount);
      const description =
        `${l.receipt}, ${l.supplierName}: ${byHand ? params.reason : d.name}`.slice(0, 200);
      lineDrafts.push(
        {
          account: grni,
          dimensions: {},
          description,
          side: amount > 0n ? "debit" : "credit",
          amount: size,
        },
        {
          account: d.account,
          written: true as const,
          dimensions: d.dimensions,
          description,
          side: amount > 0n ? "credit" : "debit",
          amount: size,
        },
      );
    }
    const draft: JournalDraft = {
      company: company.code,
      type: "purchase",
      book: null,
      date: params.date,
      description: byHand
        ? `Clean-up: ${params.reason}`
        : "Clean-up of what is received and not invoiced",
      lines: lineDrafts,
    };
    return ok({
      company: company.code,
      yearId: period.yearId,
      date: params.date,
      title: `Clean-up on ${dateText(params.date)}, ${company.name}`,
      items,
      drafts: lineDrafts.length > 0 ? [draft] : [],
      warnings: [],
      figures: [{ label: "Written off", amount: minor(total) }],
      detail: written,
    });
  },
  async posted(context, { id, params, proposal, journals }) {
    const company = context.masters.companyByCode.get(params.company)!;
    const written = proposal.detail as Written[];
    const limit = await limitOf(context, company.code);
    const own = written.reduce((t, x) => t + (x.amount < 0n ? -x.amount : x.amount), 0n);
    const sum = minor(own + (limit === null ? 0n : await writtenOffToday(context, company.id)));
    if (limit !== null && sum > limit)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what: `You may write off ${amountText(limit, company.currency)} ${company.currency} a day; with this it comes to ${amountText(sum, company.currency)}. A controller can post it`,
      });
    const [journal] = journals;
    if (!journal)
      return fail({ code: "RUN_STANDS_IN_WAY", what: "Nothing is left in it to write off" });
    await storeEntries(
      context,
      written.map((x): EntryToStore => ({
        companyId: company.id,
        receiptLineId: x.receiptLine,
        kind: "cleaned",
        documentId: id,
        journalId: journal.id,
        date: params.date,
        seq: journal.seq,
        quantity: 0n,
        foreign: minor(0n),
        functional: minor(-x.amount),
        account: x.account,
        dimensions: x.dimensions,
        reason: x.reason,
      })),
    );
    // What is left of a line keeps it apart from here on: a part that stays can be taken again.
    await releaseItems(context.tx, id);
    return ok({});
  },
  async reversing({ tx }, { id }) {
    const [later] = await rows<{ number: string }>(
      tx,
      sql`select distinct coalesce(d.number, '') as number from grni_entry e
        join document d on d.id = e.document_id
        where e.kind = 'reopened' and e.receipt_line_id in (select receipt_line_id from grni_entry
        where document_id = ${id}) and d.status = 'posted' limit 1`,
    );
    return later
      ? fail({
          code: "RUN_STANDS_IN_WAY",
          what: `${later.number} has billed what was written off; it stands again already`,
        })
      : ok({});
  },
  async reversed(context, { id, reversal }) {
    await undoEntries(context, id, reversal);
  },
});

interface Written {
  receiptLine: number;
  amount: Minor;
  account: string;
  dimensions: Readonly<Record<string, string>>;
  reason: string;
}
