import { readAmount } from "../../shared";
import type { LineCoding } from "../lineState";
import type { MatchLine } from "./types";

/** A rule of the company's own: which lines of its banks it means, and what they are. */
export interface LineRule {
  id: number;
  name: string;
  /** The bank account on whose statements it looks; null for all. */
  bank: number | null;
  /** Words that stand in the text, in this order, letter case and signs aside; "" for any. */
  text: string;
  /** Words of the other party's name; "" for any. */
  party: string;
  /** The beginning of the bank's code; "" for any. */
  code: string;
  side: "in" | "out" | "both";
  /** Least and most of the amount, without sign, as decimals in the line's currency; "" for any. */
  from: string;
  to: string;
  outcome: RuleOutcome;
}

/** A kind of movement, a coding of its own, a partner whose money it is, or a line left to people. */
export type RuleOutcome =
  | { is: "kind"; kind: string }
  | { is: "coding"; coding: LineCoding }
  | { is: "partner"; partner: string }
  | { is: "leave" };

const plain = (text: string): string =>
  ` ${text
    .toUpperCase()
    .replace(/[^\p{L}\p{N}]+/gu, " ")
    .trim()} `;

const size = (a: bigint): bigint => (a < 0n ? -a : a);

/** An amount in the line's currency; null where nothing is asked, undefined where it cannot be. */
function bound(text: string, currency: string): bigint | null | undefined {
  if (text === "") return null;
  const read = readAmount(text, currency);
  return read.ok ? size(read.amount) : undefined;
}

/**
 * Whether a rule means a line: all its conditions hold. Words stand as whole words. A bound that the
 * line's currency cannot hold meets no line.
 */
export function meansLine(
  rule: LineRule,
  line: Pick<MatchLine, "bank" | "text" | "code" | "amount" | "currency"> & {
    party: { name: string };
  },
): boolean {
  if (rule.bank !== null && rule.bank !== line.bank) return false;
  if (rule.side !== "both" && (rule.side === "in") !== line.amount > 0n) return false;
  if (rule.code !== "" && !line.code.startsWith(rule.code)) return false;
  if (rule.text !== "" && !plain(line.text).includes(plain(rule.text))) return false;
  if (rule.party !== "" && !plain(line.party.name).includes(plain(rule.party))) return false;
  const from = bound(rule.from, line.currency);
  const to = bound(rule.to, line.currency);
  if (from === undefined || to === undefined) return false;
  const amount = size(line.amount);
  return (from === null || amount >= from) && (to === null || amount <= to);
}

/** The rule that decides on a line: the first, in their order, that means it. */
export const ruleOf = (
  rules: readonly LineRule[],
  line: Parameters<typeof meansLine>[1],
): LineRule | undefined => rules.find((r) => meansLine(r, line));

/** The partner whose money a line is by the first rule that means it; null where none says so. */
export function partnerByRule(
  rules: readonly LineRule[],
  line: Parameters<typeof meansLine>[1],
): string | null {
  const outcome = ruleOf(rules, line)?.outcome;
  return outcome?.is === "partner" ? outcome.partner : null;
}
