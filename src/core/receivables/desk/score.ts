import Decimal from "decimal.js";
import type { CreditGrade } from "../../partners";
import { amountText, exponentOf, minor, type Minor } from "../../shared";
import type { ScorePolicy } from "./policy";

/** What is known of a customer on a day. Amounts in minor units of the company's currency. */
export interface ScoreFacts {
  /** Overdue, without what is disputed and what is promised and not yet due. */
  toCollect: Minor;
  /** Days for which the oldest of that is overdue; 0 where there is none. */
  daysLate: number;
  /** Promises broken in the last half year, and how many days ago the last one was. */
  broken: number;
  lastBroken: number | null;
  grade: CreditGrade | "";
  /** Of the credit limit, in whole per cent; null where none is set. */
  limitUsed: number | null;
  /** Days since anybody was in touch, or since something is overdue, if that is later. */
  silent: number | null;
  /** The largest item that falls due within a week. */
  soon: Minor;
  /** Days since a dispute was solved of which something is open; null where there is none. */
  solved: number | null;
  /** Average days late of what was paid in the last half year, and in the one before. */
  pays: { now: number; before: number | null } | null;
}

export const SCORE_PARTS = [
  "late",
  "amount",
  "broken",
  "grade",
  "limit",
  "silent",
  "soon",
  "solved",
  "trend",
] as const;
export type ScorePartCode = (typeof SCORE_PARTS)[number];

/** A plain part of a score: what it looks at, what it found, how many points that is, by which rule. */
export interface ScorePart {
  code: ScorePartCode;
  says: string;
  rule: string;
  points: number;
  most: number;
}

export interface Score {
  /** The sum of the points. */
  score: number;
  /** Those with points first, the most of them ahead. */
  parts: ScorePart[];
}

interface Found {
  says: string;
  rule: string;
  /** From 0 to 1: how much of its points it has. */
  part: number;
}

/**
 * Whom to ask first: a sum of plain parts, each with what it found and its rule. The same facts and
 * policy give the same score wherever it shows.
 * Units: points are whole; each part is rounded half up, and the score is the sum of what is shown.
 */
export function scoreOf(facts: ScoreFacts, policy: ScorePolicy, currency: string): Score {
  const parts = SCORE_PARTS.map((code): ScorePart => {
    const most = policy[code];
    const { says, rule, part } = FINDERS[code](facts, policy, currency);
    return { code, says, rule, most, points: Math.floor(clamp(part) * most + 0.5) };
  });
  return {
    score: parts.reduce((t, p) => t + p.points, 0),
    parts: [...parts].sort((a, b) => b.points - a.points),
  };
}

const clamp = (part: number): number => Math.min(1, Math.max(0, part));
const plural = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
const GRADE_PARTS: Readonly<Record<CreditGrade, number>> = { A: 0, B: 0.25, C: 0.5, D: 0.75, E: 1 };

/** An amount as a part of the one from which all points are given: exact, then a fraction. */
const partOf = (amount: Minor, full: string, currency: string): number => {
  const whole = new Decimal(full).mul(new Decimal(10).pow(exponentOf(currency)));
  if (whole.isZero()) return amount > 0n ? 1 : 0;
  return new Decimal(amount.toString()).div(whole).toNumber();
};

type Finder = (facts: ScoreFacts, policy: ScorePolicy, currency: string) => Found;
const FINDERS: Readonly<Record<ScorePartCode, Finder>> = {
  late: ({ daysLate }, { lateDays }) => ({
    says: daysLate > 0 ? `${plural(daysLate, "day")} overdue` : "Nothing to collect is overdue",
    rule: `In proportion to the days of the oldest item, all from ${plural(lateDays, "day")} on.`,
    part: daysLate / lateDays,
  }),
  amount: ({ toCollect }, { amountFull }, currency) => ({
    says: `${amountText(toCollect, currency)} to collect`,
    rule: `In proportion to the amount, all from ${fullText(amountFull, currency)} on.`,
    part: toCollect > 0n ? partOf(toCollect, amountFull, currency) : 0,
  }),
  broken: ({ broken, lastBroken }, { brokenCount }) => ({
    says:
      broken === 0
        ? "No promise was broken in half a year"
        : `${plural(broken, "promise")} broken, the last ${ago(lastBroken ?? 0)}`,
    rule: `In proportion to the promises broken in half a year, all from ${brokenCount} on.`,
    part: broken / brokenCount,
  }),
  grade: ({ grade }) => ({
    says: grade === "" ? "No credit grade is set" : `Credit grade ${grade}`,
    rule: "A has none of the points, B a quarter, C half, D three quarters, E all.",
    part: grade === "" ? 0 : GRADE_PARTS[grade],
  }),
  limit: ({ limitUsed }) => ({
    says: limitUsed === null ? "No credit limit is set" : `${limitUsed} % of the limit used`,
    rule: "None up to three quarters of the limit, then in proportion, all at the whole of it.",
    part: limitUsed === null ? 0 : (limitUsed - 75) / 25,
  }),
  silent: ({ silent }, { silentDays }) => ({
    says:
      silent === null
        ? "Nothing is overdue that silence could matter to"
        : `${plural(silent, "day")} without a word`,
    rule: `In proportion to the days since the last contact, all from ${plural(silentDays, "day")} on.`,
    part: silent === null ? 0 : silent / silentDays,
  }),
  soon: ({ soon }, { amountFull }, currency) => ({
    says:
      soon > 0n
        ? `${amountText(soon, currency)} falls due within a week`
        : "Nothing large falls due within a week",
    rule: `In proportion to the largest item due within a week, all from ${fullText(amountFull, currency)} on.`,
    part: soon > 0n ? partOf(soon, amountFull, currency) : 0,
  }),
  solved: ({ solved }) => ({
    says:
      solved === null
        ? "No dispute was solved in two weeks"
        : `A dispute was solved ${ago(solved)}, and the item is still open`,
    rule: "All, while a dispute was solved within two weeks and its item is open.",
    part: solved === null ? 0 : 1,
  }),
  trend: ({ pays }) => ({
    says: trendText(pays),
    rule: "In proportion to how many days later it pays than in the half year before, all from 15 on.",
    part: pays === null || pays.before === null ? 0 : (pays.now - pays.before) / 15,
  }),
};

const fullText = (full: string, currency: string): string => {
  const units = new Decimal(full).mul(new Decimal(10).pow(exponentOf(currency))).toFixed(0);
  return `${amountText(minor(BigInt(units)), currency)} ${currency}`;
};
const ago = (days: number): string =>
  days === 0 ? "today" : days === 1 ? "yesterday" : `${days} days ago`;

function trendText(pays: ScoreFacts["pays"]): string {
  if (pays === null) return "Nothing was paid in half a year";
  const late = `Pays ${daysLateText(pays.now)}`;
  return pays.before === null ? late : `${late}, before ${daysLateText(pays.before)}`;
}
/** "19 days late", "3 days early", "in time". */
export const daysLateText = (days: number): string =>
  days === 0 ? "in time" : `${plural(Math.abs(days), "day")} ${days > 0 ? "late" : "early"}`;

/** What would lower it, and to what: each is the score of the facts as they would be then. */
export function whatLowers(
  facts: ScoreFacts,
  policy: ScorePolicy,
  currency: string,
): { says: string; score: number }[] {
  const now = scoreOf(facts, policy, currency).score;
  const none = { toCollect: minor(0n), daysLate: 0 };
  const ways: { says: string; facts: ScoreFacts }[] = [
    { says: "With a word today", facts: { ...facts, silent: facts.silent === null ? null : 0 } },
    {
      says: "With a promise for what is overdue",
      facts: { ...facts, ...none, silent: facts.silent === null ? null : 0 },
    },
    {
      says: "With what is overdue paid",
      facts: { ...facts, ...none, silent: null, solved: null },
    },
  ];
  return ways
    .map((w) => ({ says: w.says, score: scoreOf(w.facts, policy, currency).score }))
    .filter((w) => w.score < now);
}
