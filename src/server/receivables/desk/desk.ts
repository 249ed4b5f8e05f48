import { object, string } from "yup";
import {
  nextAction,
  scoreOf,
  scorePolicySchema,
  type NextAction,
  type Score,
  type ScorePolicy,
} from "@/core/receivables";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { deskFacts, type DeskFacts } from "./deskFacts";
import { policiesByGroup } from "./policies";

/** A customer at its place in the ranking. Amounts in the company's currency. */
export interface DeskRow {
  code: string;
  name: string;
  group: string;
  collector: string;
  blocks: string[];
  score: number;
  parts: Score["parts"];
  action: NextAction;
  because: string;
  open: Minor;
  overdue: Minor;
  toCollect: Minor;
  disputed: Minor;
  promised: Minor;
  daysLate: number;
  broken: number;
  /** The highest reminder level of what is open; 0 for none. */
  level: number;
  limitUsed: number | null;
  pays: { now: number; before: number | null } | null;
  lastContact: string | null;
  nextStep: string;
  nextOn: CalendarDate | null;
}

export interface Desk {
  currency: string;
  on: CalendarDate;
  rows: DeskRow[];
  /** How many customers there are in all: the list holds the first of them. */
  of: number;
  totals: { overdue: Minor; promised: Minor; disputed: Minor; toCollect: Minor };
}

/** Customers that one page holds. */
const MOST = 500;

/** A customer ranked by a policy: the same wherever it shows. */
export function ranked(d: DeskFacts, policy: ScorePolicy, currency: string): DeskRow {
  const { facts } = d;
  const { score, parts } = scoreOf(facts, policy, currency);
  return {
    code: d.code,
    name: d.name,
    group: d.group,
    collector: d.collector,
    blocks: d.blocks,
    level: d.level,
    score,
    parts,
    ...nextAction(facts, currency),
    open: d.open,
    overdue: facts.overdue,
    toCollect: facts.toCollect,
    disputed: facts.disputed,
    promised: facts.promised,
    daysLate: facts.daysLate,
    broken: facts.broken,
    limitUsed: facts.limitUsed,
    pays: facts.pays,
    lastContact: d.lastContact,
    nextStep: d.nextStep,
    nextOn: d.nextOn,
  };
}

/** The highest score first; of the same score the larger amount, then the number. */
export const byScore = (a: DeskRow, b: DeskRow): number =>
  b.score - a.score ||
  (b.toCollect > a.toCollect ? 1 : b.toCollect < a.toCollect ? -1 : 0) ||
  (a.code < b.code ? -1 : 1);

/** Ranks all customers of a company. */
export async function rankAll(
  context: Context,
  company: { id: number; code: string; currency: string },
  policyOf: (group: string) => ScorePolicy,
): Promise<{ row: DeskRow; facts: DeskFacts }[]> {
  const facts = await deskFacts(context, company, context.today);
  return facts
    .map((f) => ({ row: ranked(f, policyOf(f.group), company.currency), facts: f }))
    .sort((a, b) => byScore(a.row, b.row));
}

const sum = (list: readonly DeskRow[], pick: (r: DeskRow) => bigint): Minor =>
  minor(list.reduce((t, r) => t + pick(r), 0n));

export const collectionsDesk = defineUseCase({
  name: "collectionsDesk",
  kind: "read",
  rights: ["read.receivables"],
  what: "see the collections desk",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    /** Whose customers: a sign-in name, also where that person stands in; "" for all. */
    collector: string().trim().default("").max(60),
    group: string().trim().default("").max(20),
    text: string().trim().default("").max(100),
  }),
  run: async (context, input): Promise<Result<Desk>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const all = await rankAll(context, company, await policiesByGroup(context));
    const text = input.text.toLowerCase();
    const { collector, group } = input;
    const rows = all
      .filter(
        ({ row, facts }) =>
          (collector === "" || facts.collector === collector || facts.standIn === collector) &&
          (group === "" || row.group === group) &&
          (text === "" || `${row.code} ${row.name}`.toLowerCase().includes(text)),
      )
      .map(({ row }) => row);
    return ok({
      currency: company.currency,
      on: context.today,
      rows: rows.slice(0, MOST),
      of: rows.length,
      totals: {
        overdue: sum(rows, (r) => (r.overdue > 0n ? r.overdue : 0n)),
        promised: sum(rows, (r) => r.promised),
        disputed: sum(rows, (r) => r.disputed),
        toCollect: sum(rows, (r) => r.toCollect),
      },
    });
  },
});

export interface NewOrder {
  /** Places from 1, before and after. */
  rows: { code: string; name: string; before: number; after: number; score: number; was: number }[];
}

/** The order that a policy would give to the customers of a group, beside the one of today. */
export const tryPolicy = defineUseCase({
  name: "tryPolicy",
  kind: "read",
  rights: ["setup.rules"],
  what: "set up groups of customers",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    group: string().trim().default("").max(20),
    policy: scorePolicySchema.required(),
  }),
  run: async (context, input): Promise<Result<NewOrder>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const policyOf = await policiesByGroup(context);
    const now = await rankAll(context, company, policyOf);
    const then = now
      .map(({ facts }) =>
        ranked(
          facts,
          facts.group === input.group ? input.policy : policyOf(facts.group),
          company.currency,
        ),
      )
      .sort(byScore);
    const before = new Map(now.map(({ row }, i) => [row.code, { place: i + 1, score: row.score }]));
    return ok({
      rows: then.slice(0, MOST).map((r, i) => ({
        code: r.code,
        name: r.name,
        before: before.get(r.code)!.place,
        was: before.get(r.code)!.score,
        after: i + 1,
        score: r.score,
      })),
    });
  },
});
