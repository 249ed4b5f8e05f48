import Decimal from "decimal.js";
import {
  amountText,
  exponentOf,
  minor,
  readAmount,
  split,
  sum,
  type Found,
  type Minor,
} from "../shared";
import type { Step } from "../runs";
import { isBlankLine, type JournalInput, type JournalLineInput } from "./journalInput";
import type { Masters } from "./masters";
import { quantityText } from "./quantity";

/**
 * What a balance is taken from: accounts from and to, one dimension value with all below it, over a
 * stretch of time.
 */
export interface Source {
  from: string;
  to: string;
  /** Code of a dimension value; null for all. */
  value: string | null;
  over: SourceSpan;
}
export const SOURCE_SPANS = ["month", "last month", "year", "balance"] as const;
export type SourceSpan = (typeof SOURCE_SPANS)[number];

/** How the amount of a line comes about each time. */
export type AmountRule =
  | { kind: "fixed" }
  | { kind: "asked" }
  | { kind: "percent"; percent: string; source: Source }
  | { kind: "per"; price: string; source: Source }
  | { kind: "rest"; by: Source | null };

const SOURCE =
  /^(\S+?)(?:\.\.(\S+))?(?:\s+in\s+(\S+))?(?:\s+(?:over\s+)?(month|last month|year|balance))?$/i;

function readSource(text: string): Source | null {
  const found = SOURCE.exec(text.trim());
  return found
    ? {
        from: found[1]!,
        to: found[2] ?? found[1]!,
        value: found[3] ?? null,
        over: (found[4]?.toLowerCase() as SourceSpan | undefined) ?? "month",
      }
    : null;
}

/**
 * Reads what stands in an amount cell of a recurring journal:
 * an amount, "?" (asked each time), "4% of 4010", "0.35 per 9010", "rest", "rest by 9010".
 * A source is an account or a range ("4010..4090"), then "in VALUE", then "month" (the default),
 * "last month", "year" (to date) or "balance".
 * Null where the text begins like a rule and is none.
 */
export function readAmountRule(text: string): AmountRule | null {
  const typed = text.trim().replace(/\s+/g, " ");
  if (typed === "?") return { kind: "asked" };
  if (/^rest$/i.test(typed)) return { kind: "rest", by: null };
  const rest = /^rest by (.+)$/i.exec(typed);
  if (rest) {
    const by = readSource(rest[1]!);
    return by && { kind: "rest", by };
  }
  const share = /^(-?\d+(?:\.\d+)?)\s?% of (.+)$/i.exec(typed);
  if (share) {
    const source = readSource(share[2]!);
    return source && { kind: "percent", percent: share[1]!, source };
  }
  const price = /^(-?\d+(?:\.\d+)?) per (.+)$/i.exec(typed);
  if (price) {
    const source = readSource(price[2]!);
    return source && { kind: "per", price: price[1]!, source };
  }
  return /[a-z?%]/i.test(typed) ? null : { kind: "fixed" };
}

/**
 * A balance that a line asks for. `units` where the accounts count units: then the amount is in
 * thousandths.
 */
export interface Wanted {
  line: number;
  source: Source;
  /**
   * Values that the balance is limited to, by dimension: those of the line itself where a rest is
   * shared.
   */
  values: Readonly<Record<string, string>>;
}

const sideOf = (line: JournalLineInput): "debit" | "credit" =>
  line.credit.trim() !== "" ? "credit" : "debit";
const textOf = (line: JournalLineInput): string => line[sideOf(line)];

/**
 * What has to be looked up before the amounts of a recurring journal can be computed. Lines from 0.
 */
export function wantedOf(content: JournalInput): Wanted[] {
  return content.lines.flatMap((line, i): Wanted[] => {
    const rule = isBlankLine(line) ? null : readAmountRule(textOf(line));
    if (rule?.kind === "percent" || rule?.kind === "per")
      return [{ line: i, source: rule.source, values: {} }];
    if (rule?.kind === "rest" && rule.by)
      return [{ line: i, source: rule.by, values: rule.by.value ? {} : line.dimensions }];
    return [];
  });
}

/** What stands against the rules of the amounts, at their cells (lines from 1). */
export function amountRuleProblems(
  content: JournalInput,
  masters: Masters,
  functional: string,
): Found[] {
  const problems: Found[] = [];
  const restSides = new Set<string>();
  content.lines.forEach((line, i) => {
    if (isBlankLine(line)) return;
    const field = sideOf(line);
    const place = { line: i + 1, field };
    if (line.debit.trim() && line.credit.trim()) return;
    const rule = readAmountRule(textOf(line));
    if (!rule) return void problems.push({ code: "RULE_INVALID", text: textOf(line), ...place });
    if (rule.kind === "rest") restSides.add(field);
    const source =
      rule.kind === "percent" || rule.kind === "per"
        ? rule.source
        : rule.kind === "rest"
          ? rule.by
          : null;
    if (!source) return;
    const accounts = masters.accounts.filter(
      (a) => a.number >= source.from && (a.number <= source.to || a.number.startsWith(source.to)),
    );
    if (accounts.length === 0)
      problems.push({
        code: "ACCOUNT_UNKNOWN",
        account:
          source.from === source.to ? source.from : `between ${source.from} and ${source.to}`,
        ...place,
      });
    if (source.value !== null && !masters.dimensionValues.some((v) => v.code === source.value))
      problems.push({
        code: "VALUE_UNKNOWN",
        dimension: "dimension value",
        value: source.value,
        ...place,
      });
    const counted = accounts.filter((a) => a.type === "units").length;
    if (rule.kind === "per" && counted < accounts.length)
      problems.push({
        code: "INVALID",
        what: "“per” takes accounts of units, such as passengers",
        ...place,
      });
    if (rule.kind === "percent" && counted > 0)
      problems.push({
        code: "INVALID",
        what: "“% of” takes accounts of money; for units write an amount, “per” and the account",
        ...place,
      });
    if (rule.kind === "rest" && counted > 0 && counted < accounts.length)
      problems.push({ code: "INVALID", what: "Money and units cannot be added up", ...place });
    if (rule.kind !== "rest" && content.currency && content.currency !== functional)
      problems.push({
        code: "INVALID",
        what: `Balances are in ${functional}; a journal in ${content.currency} takes amounts that are typed`,
        ...place,
      });
  });
  if (restSides.size > 1)
    problems.push({
      code: "INVALID",
      what: "What is left goes to lines of one side, debit or credit",
    });
  return problems;
}

/** What a line is called in the explanation of its amount. */
const nameOf = (line: JournalLineInput): string =>
  line.description.trim() ||
  [line.account, ...Object.values(line.dimensions)].filter(Boolean).join(" ");
/** A part of a whole in per cent with two decimals, cut off: for reading, not for computing. */
const percentText = (part: bigint, whole: bigint): string => {
  const hundredths = whole === 0n ? 0n : (part * 10_000n) / whole;
  return `${hundredths / 100n}.${String(hundredths % 100n).padStart(2, "0")}`;
};

export interface ComputedJournal {
  content: JournalInput;
  /** How each computed amount came about. */
  steps: Step[];
  /** Lines (from 0) that wait for an amount. */
  asked: number[];
  problems: Found[];
}

/**
 * The journal of one date of a recurring journal: every rule becomes an amount.
 * Units: `measure` gives minor units of the functional currency, or thousandths for accounts of
 * units, in the natural direction of the accounts
 * (debit for assets, expenses and units, credit for the others). A negative amount goes to the
 * other side.
 * Rounding: each percentage and price once, half away from zero, to the minor unit; what is left is
 * split by largest remainder.
 * A line that comes to nothing is left out.
 * @param given amounts that were asked for, as typed, by line from 0
 */
export function computeRecurring(
  content: JournalInput,
  currency: string,
  measure: (wanted: Wanted) => bigint,
  given: ReadonlyMap<number, string>,
): ComputedJournal {
  const wanted = new Map(wantedOf(content).map((w) => [w.line, w]));
  const steps: Step[] = [];
  const asked: number[] = [];
  const problems: Found[] = [];
  const amounts = new Map<number, Minor>();
  const rests: number[] = [];
  content.lines.forEach((line, i) => {
    if (isBlankLine(line)) return;
    const text = textOf(line);
    const rule = readAmountRule(text);
    const name = nameOf(line);
    if (!rule || rule.kind === "fixed") {
      const reading = readAmount(text, currency);
      if (reading.ok) amounts.set(i, reading.amount);
      return;
    }
    if (rule.kind === "rest") return void rests.push(i);
    if (rule.kind === "asked") {
      const typed = given.get(i)?.trim() ?? "";
      const reading = readAmount(typed, currency);
      if (reading.ok) amounts.set(i, reading.amount);
      else asked.push(i);
      if (typed && !reading.ok) problems.push({ code: "AMOUNT_NOT_NUMBER", text: typed });
      steps.push(
        reading.ok
          ? { label: `${name}: given`, amount: reading.amount }
          : { label: `${name}: asked for`, text: "not given yet" },
      );
      return;
    }
    const base = measure(wanted.get(i)!);
    const factor = new Decimal(rule.kind === "percent" ? rule.percent : rule.price);
    const exact =
      rule.kind === "percent"
        ? factor.mul(base.toString()).div(100)
        : factor
            .mul(base.toString())
            .div(1000)
            .mul(new Decimal(10).pow(exponentOf(currency)));
    const amount = minor(BigInt(exact.toDecimalPlaces(0, Decimal.ROUND_HALF_UP).toFixed(0)));
    amounts.set(i, amount);
    steps.push(
      {
        label: `${name}: ${text.trim()}`,
        text: rule.kind === "percent" ? amountText(base, currency) : quantityText(base),
      },
      { label: "comes to", amount },
    );
  });
  if (rests.length > 0 && asked.length === 0) {
    const side = sideOf(content.lines[rests[0]!]!);
    const signed = (i: number, amount: Minor) =>
      sideOf(content.lines[i]!) === side ? -amount : amount;
    const left = sum([...amounts].map(([i, amount]) => minor(signed(i, amount))));
    const weights = rests.map((i) => {
      const w = wanted.get(i);
      return w ? measure(w) : 1n;
    });
    if (weights.some((w) => w < 0n) || (left !== 0n && weights.every((w) => w === 0n)))
      problems.push({
        code: "INVALID",
        what: weights.some((w) => w < 0n)
          ? "What is left cannot be shared by a negative balance"
          : "There is nothing to share what is left by: all balances are zero",
      });
    else
      split(left, weights).forEach((part, n) => {
        const line = content.lines[rests[n]!]!;
        amounts.set(rests[n]!, part);
        const whole = weights.reduce((a, b) => a + b, 0n);
        steps.push({
          label: `${nameOf(line)}: ${
            rests.length === 1
              ? "what is left"
              : `${percentText(weights[n]!, whole)} % of what is left${
                  wanted.has(rests[n]!)
                    ? `, ${textOf(line)
                        .trim()
                        .replace(/^rest /i, "")}`
                    : ""
                }`
          }`,
          amount: part,
        });
      });
  }
  const lines = content.lines.flatMap((line, i): JournalLineInput[] => {
    const amount = amounts.get(i);
    if (amount === undefined)
      return line.quantity.trim() !== "" && textOf(line).trim() === "" ? [line] : [];
    if (amount === 0n) return [];
    const side = amount < 0n === (sideOf(line) === "debit") ? "credit" : "debit";
    // A negative amount that was typed stays as typed; one that was computed changes sides.
    const fixed = readAmountRule(textOf(line))?.kind === "fixed";
    if (fixed) return [line];
    return [
      {
        ...line,
        debit: "",
        credit: "",
        [side]: amountText(amount < 0n ? -amount : amount, currency),
      },
    ];
  });
  return { content: { ...content, lines }, steps, asked, problems };
}
