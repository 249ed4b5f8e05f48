import { array, boolean, number, object, string, type InferType } from "yup";
import Decimal from "decimal.js";
import {
  amountText,
  fail,
  minor,
  ok,
  readAmount,
  textRecord,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "../shared";
import { ITEM_KINDS } from "../trade";

/**
 * What of a receipt is not invoiced: positive where more was received than invoiced, negative where
 * it is the other way round. Minor units of the functional currency.
 */
export interface Leftover {
  receiptLine: number;
  receipt: string;
  receiptId: number;
  date: CalendarDate;
  /** Days since it was received. */
  age: number;
  company: string;
  supplier: string;
  supplierName: string;
  order: string;
  orderId: number;
  orderOpen: boolean;
  kind: string;
  description: string;
  received: Minor;
  invoiced: Minor;
  leftover: Minor;
  account: string;
  dimensions: Readonly<Record<string, string>>;
}

/** The plain parts that conditions are put together from, with what each is compared by. */
export const CONDITION_PARTS = {
  age: ["at least", "at most"],
  amount: ["at least", "at most"],
  percent: ["at least", "at most"],
  order: ["is"],
  supplier: ["is", "is not"],
  kind: ["is", "is not"],
} as const;
export type ConditionPart = keyof typeof CONDITION_PARTS;
export const CLEAN_UP_ACTIONS = ["coding", "account", "ask"] as const;

export const cleanUpRuleSchema = object({
  id: number().integer(),
  place: number().integer().min(1).max(10_000).required("Say where it stands in the order"),
  name: string().trim().required("A name is needed").max(80),
  company: string().nullable().default(null),
  conditions: array(
    object({
      part: string()
        .oneOf(Object.keys(CONDITION_PARTS) as ConditionPart[])
        .required(),
      by: string().required(),
      value: string().trim().required("A value is missing").max(60),
    }),
  )
    .max(20)
    .default([]),
  action: string().oneOf(CLEAN_UP_ACTIONS).default("coding"),
  account: string().trim().default(""),
  dimensions: textRecord(),
  active: boolean().default(true),
});
export type CleanUpRule = InferType<typeof cleanUpRuleSchema>;

type Condition = CleanUpRule["conditions"][number];
const WORDS: Record<ConditionPart, string> = {
  age: "age in days",
  amount: "amount",
  percent: "per cent of what was invoiced",
  order: "order",
  supplier: "supplier",
  kind: "kind of item",
};

/** What is wrong with a rule, each with its condition (from 1). */
export function ruleProblems(
  rule: CleanUpRule,
  known: { suppliers: ReadonlySet<string>; accounts: ReadonlySet<string>; currency: string },
): Found[] {
  const problems: Found[] = [];
  const bad = (what: string, line?: number, field = "conditions") =>
    problems.push({ code: "INVALID", what, field, ...(line === undefined ? {} : { line }) });
  rule.conditions.forEach((c, i) => {
    if (!(CONDITION_PARTS[c.part] as readonly string[]).includes(c.by))
      bad(`${WORDS[c.part]} is not compared by “${c.by}”`, i + 1);
    else if (c.part === "age" && !/^\d{1,5}$/.test(c.value))
      bad(`“${c.value}” is no number of days`, i + 1);
    else if (c.part === "percent" && !/^\d{1,4}(\.\d{1,2})?$/.test(c.value))
      bad(`“${c.value}” is no per cent`, i + 1);
    else if (c.part === "amount" && !readAmount(c.value, known.currency).ok)
      bad(`“${c.value}” is no amount`, i + 1);
    else if (c.part === "order" && !["open", "closed"].includes(c.value))
      bad("An order is open or closed", i + 1);
    else if (c.part === "supplier" && !known.suppliers.has(c.value))
      bad(`There is no supplier ${c.value}`, i + 1);
    else if (c.part === "kind" && !(ITEM_KINDS as readonly string[]).includes(c.value))
      bad(`A kind of item is ${ITEM_KINDS.join(", ")}`, i + 1);
  });
  const limits = (part: ConditionPart, by: string) =>
    rule.conditions
      .filter((c) => c.part === part && c.by === by)
      .map((c) => Number(c.value.replace(/,/g, "")));
  for (const part of ["age", "amount", "percent"] as const)
    if (
      Math.max(-Infinity, ...limits(part, "at least")) >
      Math.min(Infinity, ...limits(part, "at most"))
    )
      bad(`No ${WORDS[part]} can be both at least and at most that`);
  if (rule.conditions.length === 0 && rule.action !== "ask")
    bad("A rule without conditions would write everything off");
  if (rule.action === "account" && !known.accounts.has(rule.account))
    problems.push(
      rule.account === ""
        ? { code: "REQUIRED", what: "The account", field: "account" }
        : { code: "ACCOUNT_UNKNOWN", account: rule.account, field: "account" },
    );
  return problems;
}

/**
 * What a leftover is of what was invoiced, in per cent with two places; of what was received, where
 * nothing was invoiced.
 */
export const percentOfInvoiced = (
  l: Pick<Leftover, "leftover" | "invoiced" | "received">,
): Decimal => {
  const of = l.invoiced === 0n ? l.received : l.invoiced;
  return of === 0n
    ? new Decimal(100)
    : new Decimal(l.leftover.toString())
        .abs()
        .mul(100)
        .div(new Decimal(of.toString()).abs())
        .toDecimalPlaces(2, Decimal.ROUND_HALF_UP);
};

function fits(c: Condition, l: Leftover, currency: string): { fits: boolean; why: string } {
  const number = (value: Decimal.Value, text: string, limit: Decimal.Value, unit: string) => ({
    fits: c.by === "at least" ? new Decimal(value).gte(limit) : new Decimal(value).lte(limit),
    why: `${text}${unit} is ${c.by} ${c.value}`,
  });
  const word = (value: string) => ({
    fits: c.by === "is not" ? value !== c.value : value === c.value,
    why: `${WORDS[c.part]} ${c.by} ${c.value}`,
  });
  switch (c.part) {
    case "age":
      return number(l.age, `${l.age}`, c.value, " days");
    case "percent": {
      const p = percentOfInvoiced(l);
      return number(p, p.toFixed(), c.value, " %");
    }
    case "amount": {
      const size = minor(l.leftover < 0n ? -l.leftover : l.leftover);
      const limit = readAmount(c.value, currency);
      return number(
        size.toString(),
        amountText(size, currency),
        limit.ok ? limit.amount.toString() : "0",
        "",
      );
    }
    case "order":
      return word(l.orderOpen ? "open" : "closed");
    case "supplier":
      return word(l.supplier);
    case "kind":
      return word(l.kind);
  }
}

export interface RuleDecision {
  leftover: Leftover;
  rule: CleanUpRule;
  why: string;
  /** Names of later rules that would have taken it too. */
  also: string[];
}

/**
 * Which rule takes which leftover: the first in order whose conditions all fit. Rules that are not
 * active, or belong to another company, take nothing.
 * Amounts in conditions are in the functional currency; ages in days since the receipt.
 */
export function applyRules(
  leftovers: readonly Leftover[],
  rules: readonly CleanUpRule[],
  currency: string,
): RuleDecision[] {
  const ordered = rules
    .filter((r) => r.active)
    .sort((a, b) => a.place - b.place || (a.id ?? 0) - (b.id ?? 0));
  return leftovers.flatMap((leftover): RuleDecision[] => {
    const taking = ordered.flatMap((rule) => {
      if (rule.company !== null && rule.company !== leftover.company) return [];
      const results = rule.conditions.map((c) => fits(c, leftover, currency));
      return results.every((r) => r.fits)
        ? [{ rule, why: results.map((r) => r.why).join(", ") || "every leftover" }]
        : [];
    });
    const [first, ...others] = taking;
    return first ? [{ leftover, ...first, also: others.map((o) => o.rule.name) }] : [];
  });
}

/**
 * How much of a leftover a person wants written off: all of it, or a part with its sign. Errors:
 * INVALID beyond what is left.
 */
export function partOfLeftover(leftover: Minor, typed: string, currency: string): Result<Minor> {
  if (typed.trim() === "") return ok(leftover);
  const read = readAmount(typed, currency);
  if (!read.ok) return fail({ code: "AMOUNT_NOT_NUMBER", text: typed });
  const size = read.amount < 0n ? -read.amount : read.amount;
  const whole = leftover < 0n ? -leftover : leftover;
  if (size === 0n || size > whole)
    return fail({
      code: "INVALID",
      what: `${amountText(minor(whole), currency)} ${currency} are left; no more can be written off`,
    });
  return ok(minor(leftover < 0n ? -size : size));
}
