import {
  amountText,
  dateText,
  exponentOf,
  minor,
  type CalendarDate,
  type Minor,
} from "../../shared";
import { returnWords } from "../returnReasons";
import { type ItemIndex, type Mention } from "./itemIndex";
import type { KnownPartners } from "./knownPartners";
import type { Expected } from "./expected";
import type { Memory } from "./remembered";
import { partnerByRule, type LineRule } from "./rules";
import type { Candidate, CodedKind, MatchItem, MatchLine, MatchReason } from "./types";

/** What candidates are found with. */
export interface Known {
  index: ItemIndex;
  partners: KnownPartners;
  kinds: readonly CodedKind[];
  rules: readonly LineRule[];
  expected: readonly Expected[];
  memory: Memory;
}

/** How surely each item was read in a text. */
export type Mentions = ReadonlyMap<MatchItem, Mention>;

/** What a bank may have kept as its charge, in whole units of a currency, before it is another amount. */
const CHARGE = 50n;
export const size = (a: bigint): bigint => (a < 0n ? -a : a);

/** What takes part in how sure a candidate is. */
interface Evidence {
  /** An id of ours that the bank gives back, or the number of a cheque. */
  key: MatchReason | null;
  /** How the numbers of the items it takes were read, the least sure counts; null where not. */
  mention: Mention | null;
  account: boolean;
  /** Whether a rule of the company's own says that it is this partner's. */
  rule: boolean;
  /** When a line of its text was this partner's before; null where none was. */
  before: CalendarDate | null;
  otherAccount: string | null;
  /** Letters in which the names differ; null where there is no likeness; undefined: no name. */
  name: number | null | undefined;
  /** Items of the partner that the text names as well, and that are not taken. */
  passedOver: readonly { item: MatchItem; mention: Mention }[];
}

/** Whom the account or the name of a line means. */
export function partnersOf(line: MatchLine, { partners, rules, memory }: Known): Set<string> {
  const said = partnerByRule(rules, line);
  const before = memory.of(line)?.last.partner ?? "";
  return new Set([
    ...(said === null ? [] : [said]),
    ...(before === "" ? [] : [before]),
    ...partners.byAccount(line.party.account),
    ...partners
      .byName(line.party.name)
      .slice(0, 3)
      .map((n) => n.partner),
  ]);
}

export const isKnown = (line: MatchLine, known: Known, partner: string): boolean =>
  partnersOf(line, known).has(partner);

/** How an amount is met by items: wholly, or with what of them may be deducted. */
export function fits(
  line: MatchLine,
  items: readonly MatchItem[],
): { discounts: readonly Minor[]; discounted: boolean; late: boolean } | null {
  const whole = items.reduce((t, i) => t + i.left, 0n);
  if (whole === line.amount)
    return { discounts: items.map(() => minor(0n)), discounted: false, late: false };
  const had = items.map((i) => i.discounts.find((d) => d.until >= line.booked));
  const discounts = had.map((d) => d?.amount ?? minor(0n));
  return whole - discounts.reduce((t, d) => t + d, 0n) === line.amount
    ? { discounts, discounted: true, late: had.some((d) => d && isLate(d, line.booked)) }
    : null;
}

/** Whether a discount is only had on a day if a person agrees. */
const isLate = (d: MatchItem["discounts"][number], day: CalendarDate): boolean =>
  (d.agreedUntil ?? d.until) < day;

interface Said {
  mentioned: Mentions;
  key?: MatchReason;
  /** Items of the partner that fit as well as the one that is explained. */
  of?: readonly MatchItem[];
  /** Sums of the partner's items that fit as well. */
  sums?: number;
}

/** The candidate that takes these items of one partner. */
export function explain(
  line: MatchLine,
  known: Known,
  items: readonly MatchItem[],
  said: Said,
): Candidate | null {
  const partner = items[0]!.partner;
  const evidence = evidenceOf(line, known, items, said);
  const reasons = reasonsOf(line, known, partner, items, evidence, said.mentioned);
  const met = meet(line, items, reasons);
  if (!met) return null;
  if (items.every((i) => i.carriedOut))
    reasons.push({
      what: "returned",
      weight: 20,
      says: `the bank ${line.amount < 0n ? "takes a direct debit" : "sends a payment"} of ours back: ${returnWords(line.returnReason)}`,
    });
  const days = dayReason(line, items);
  if (days) reasons.push(days);
  const alone = (said.of?.length ?? 1) === 1 && (said.sums ?? 1) === 1;
  return {
    takes: met.takes,
    partner: items.every((i) => i.partner === partner) ? partner : "",
    kind: "",
    coding: null,
    transfer: null,
    rest: met.rest,
    score: reasons.reduce((t, r) => t + r.weight, 0),
    reasons,
    sure: met.exact && isIdentified(evidence, alone, items) && days === null,
  };
}

/**
 * Whether it is beyond doubt whose money it is and for what. An account that is somebody else's, or
 * a name that has no likeness, is a doubt, but for ids that only we have given.
 */
function isIdentified(e: Evidence, alone: boolean, items: readonly MatchItem[]): boolean {
  if (e.key) return true;
  if (e.otherAccount !== null || (e.name === null && !e.rule)) return false;
  if (e.passedOver.some((p) => p.mention !== "bare")) return false;
  if (e.mention === "whole") return true;
  if (e.mention === "short") return e.account || e.rule || e.name === 0;
  // Nothing but the account and an amount that only one item has, and no number of another one.
  return e.mention === null && (e.account || e.rule) && alone && items.length === 1;
}

function evidenceOf(
  line: MatchLine,
  known: Known,
  items: readonly MatchItem[],
  said: Said,
): Evidence {
  const { partners } = known;
  const partner = items[0]!.partner;
  const before = known.memory.of(line)?.last;
  const mentions = items.map((i) => said.mentioned.get(i));
  const mention: Mention | null = mentions.some((m) => m === undefined)
    ? null
    : mentions.includes("bare")
      ? "bare"
      : mentions.includes("short")
        ? "short"
        : "whole";
  const owners = partners.byAccount(line.party.account);
  const names = line.party.name ? partners.byName(line.party.name) : [];
  return {
    key: said.key ?? null,
    mention,
    account: owners.includes(partner),
    rule: partnerByRule(known.rules, line) === partner,
    before: before?.partner === partner ? before.booked : null,
    otherAccount: owners.length > 0 && !owners.includes(partner) ? owners[0]! : null,
    passedOver: [...said.mentioned]
      .filter(([i]) => i.partner === partner && !items.includes(i))
      .filter(([, m]) => m !== "bare" || isKnown(line, known, partner))
      .map(([item, mention]) => ({ item, mention })),
    name: !line.party.name
      ? undefined
      : (names.find((n) => n.partner === partner)?.differs ?? null),
  };
}

const WEIGHT: Record<Mention, number> = { whole: 60, short: 40, bare: 20 };
/** What it is worth that all items stand in the text, by how surely each was read. */
const mentionWeight = (items: readonly MatchItem[], mentioned: Mentions): number =>
  Math.round(items.reduce((t, i) => t + WEIGHT[mentioned.get(i) ?? "bare"], 0) / items.length);

function reasonsOf(
  line: MatchLine,
  { partners }: Known,
  partner: string,
  items: readonly MatchItem[],
  e: Evidence,
  mentioned: Mentions,
): MatchReason[] {
  const name = partners.nameOf(partner);
  const reasons: MatchReason[] = e.key ? [e.key] : [];
  if (e.mention)
    reasons.push({
      what: "numbers",
      weight: mentionWeight(items, mentioned),
      says: numbersSay(items, e.mention),
    });
  if (e.passedOver.length > 0)
    reasons.push({
      what: "numbers",
      weight: -20,
      says: `the text also names ${e.passedOver[0]!.item.numbers[0] ?? "another one"}`,
    });
  if (e.account)
    reasons.push({ what: "account", weight: 25, says: `the account is known as ${name}'s` });
  if (e.rule)
    reasons.push({ what: "rule", weight: 25, says: `a rule of yours says that it is ${name}'s` });
  if (e.before !== null)
    reasons.push({
      what: "remembered",
      weight: 15,
      says: `a line of this text was ${name}'s on ${dateText(e.before)}`,
    });
  if (e.otherAccount)
    reasons.push({
      what: "account",
      weight: -30,
      says: `the account is known as ${partners.nameOf(e.otherAccount)}'s`,
    });
  if (e.name === 0) reasons.push({ what: "name", weight: 15, says: `the name is ${name}` });
  else if (e.name)
    reasons.push({
      what: "name",
      weight: 10 - 2 * e.name,
      says: `the name differs from ${name} in ${e.name === 1 ? "one letter" : `${e.name} letters`}`,
    });
  else if (e.name === null && !e.key && !e.rule)
    reasons.push({
      what: "name",
      weight: -10,
      says: `“${line.party.name}” is no name of ${name}`,
    });
  return reasons;
}

function numbersSay(items: readonly MatchItem[], mention: Mention): string {
  const numbers = items.map((i) => i.numbers[0] ?? "").slice(0, 4);
  const list = numbers.join(", ") + (items.length > 4 ? ` and ${items.length - 4} more` : "");
  if (mention === "whole") return `${list} ${items.length > 1 ? "stand" : "stands"} in the text`;
  return mention === "short"
    ? `the end of ${list} stands in the text`
    : `the last figures of ${list} stand in the text`;
}

/** What is taken of each item, what is left of the line, and what that says. */
function meet(
  line: MatchLine,
  items: readonly MatchItem[],
  reasons: MatchReason[],
): { takes: Candidate["takes"]; rest: Minor; exact: boolean } | null {
  const text = (a: bigint) => amountText(minor(size(a)), line.currency);
  const whole = items.reduce((t, i) => t + i.left, 0n);
  const fit = fits(line, items);
  if (fit) {
    const discount = fit.discounts.reduce((t, d) => t + size(d), 0n);
    reasons.push({
      what: "amount",
      weight: fit.late ? 18 : fit.discounted ? 28 : 30,
      says: fit.discounted
        ? `${text(line.amount)} is what is left less the discount of ${text(discount)} ${fit.late ? "that was agreed for an earlier day" : "agreed for that day"}`
        : `${text(line.amount)} is exactly what is left${items.length > 1 ? " of them together" : ""}`,
    });
    return {
      takes: items.map((i, n) => ({ item: i.id, amount: i.left, discount: fit.discounts[n]! })),
      rest: minor(0n),
      exact: !fit.late,
    };
  }
  const short = size(whole) - size(line.amount);
  if (short > 0n) return meetShort(line, items, reasons, short);
  // More than is open: what is left stays on the partner's account.
  reasons.push({
    what: "amount",
    weight: -5,
    says: `${text(short)} more came than is left`,
  });
  return {
    takes: items.map((i) => ({ item: i.id, amount: i.left, discount: minor(0n) })),
    rest: minor(line.amount - whole),
    exact: false,
  };
}

function meetShort(
  line: MatchLine,
  items: readonly MatchItem[],
  reasons: MatchReason[],
  short: bigint,
): ReturnType<typeof meet> {
  const text = (a: bigint) => amountText(minor(size(a)), line.currency);
  const most = CHARGE * 10n ** BigInt(exponentOf(line.currency));
  if (line.amount > 0n && short <= most && short * 20n <= line.amount) {
    reasons.push({
      what: "amount",
      weight: 12,
      says: `${text(short)} less than what is left, as a bank's charge would be`,
    });
    return {
      takes: items.map((i) => ({ item: i.id, amount: i.left, discount: minor(0n) })),
      rest: minor(-short),
      exact: false,
    };
  }
  const ordered = [...items].sort((a, b) => (a.due < b.due ? -1 : a.due > b.due ? 1 : a.id - b.id));
  const takes: { item: number; amount: Minor; discount: Minor }[] = [];
  let rest: bigint = line.amount;
  for (const i of ordered) {
    if (rest === 0n) break;
    const taken = size(i.left) <= size(rest) ? i.left : minor(rest);
    takes.push({ item: i.id, amount: taken, discount: minor(0n) });
    rest -= taken;
  }
  // Of items that a text names, all take part or it is not this.
  if (takes.length < items.length) return null;
  reasons.push({
    what: "amount",
    weight: 5,
    says: `${text(line.amount)} pays a part: ${text(short)} would be left`,
  });
  return { takes, rest: minor(0n), exact: false };
}

/** Money for what was not there yet when it came. */
function dayReason(line: MatchLine, items: readonly MatchItem[]): MatchReason | null {
  const later = items.find((i) => i.date > line.booked);
  return later
    ? {
        what: "day",
        weight: -15,
        says: `${later.numbers[0] ?? "it"} is of ${dateText(later.date)}, after the money moved`,
      }
    : null;
}
