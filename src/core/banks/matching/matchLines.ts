import { assign } from "./assign";
import { candidatesOf } from "./candidates";
import { size } from "./explain";
import { itemIndex } from "./itemIndex";
import { knownPartners } from "./knownPartners";
import { ownTransfers } from "./ownTransfers";
import { partsTogether } from "./partsTogether";
import { memoryOf } from "./remembered";
import { ruleOf, type LineRule } from "./rules";
import {
  MOST_CANDIDATES,
  type Candidate,
  type LineMatch,
  type MatchFacts,
  type MatchLine,
  type Verdict,
} from "./types";

/** By how much another explanation has to fall behind one that is certain. */
const APART = 20;
/** What an explanation needs to be shown at all. */
const LEAST = 15;

/**
 * Explains the lines of bank statements: for each, what it may be, the best first with the reasons,
 * and whether that is certain. Certain is what is sure by itself, has no rival among the line's own
 * candidates, and takes nothing that another line could want as well. Of no item more is taken than
 * is left of it. Lines and items of the same currency and direction meet; amounts are compared to the minor unit.
 */
export function matchLines(facts: MatchFacts): LineMatch[] {
  const known = {
    index: itemIndex(facts.items),
    partners: knownPartners(facts.partners),
    kinds: facts.kinds,
    rules: facts.rules,
    expected: facts.expected ?? [],
    memory: memoryOf(facts.remembered ?? []),
  };
  const own = new Set(facts.ownAccounts.map((o) => o.account));
  const transfers = ownTransfers(facts);
  const withTransfer = (line: MatchLine, found: Candidate[]): Candidate[] => {
    const transfer = transfers.get(line.id);
    // Our own id that comes back says more than whose account it is.
    if (found.some((c) => c.sure && isKeyed(c))) return found;
    return transfer ? [...found, transfer].sort((a, b) => b.score - a.score) : found;
  };
  const claims = facts.lines.map((l) => ({
    line: l.id,
    candidates: withTransfer(l, candidatesOf(l, known))
      .filter((c) => c.score >= LEAST)
      .slice(0, MOST_CANDIDATES),
    /** Money between accounts of our own is nobody's payment. */
    own: own.has(l.party.account),
    left: leavingRule(facts.rules, l),
  }));
  const leftOf = new Map(facts.items.map((i) => [i.id, size(i.left)]));
  const given = assign(claims, (item) => leftOf.get(item) ?? 0n);
  const parts = partsTogether(claims, given, leftOf);
  const wanted = wantedBy(claims);
  return claims.map(({ line, candidates, own: isOwn, left }) => {
    const place = given.get(line) ?? -1;
    const first = candidates[place];
    const others = candidates.filter((c) => c !== first);
    const ordered = first ? [parts.get(line) ?? first, ...others] : candidates;
    const but =
      ordered.length === 0 ? "" : left || doubt(line, ordered, first && ordered[0], isOwn, wanted);
    const verdict: Verdict =
      ordered.length === 0 ? "unexplained" : but === "" ? "certain" : "to decide";
    return { line, verdict, candidates: ordered, but };
  });
}

/** That a rule leaves a line to people, in words; "" where none does. */
function leavingRule(rules: readonly LineRule[], line: MatchLine): string {
  const rule = ruleOf(rules, line);
  return rule?.outcome.is === "leave" ? `Your rule “${rule.name}” leaves it to people` : "";
}

/** Lines that want an item, with their score for it. */
type Wanted = Map<number, { line: number; score: number }[]>;

function wantedBy(claims: readonly { line: number; candidates: readonly Candidate[] }[]): Wanted {
  const wanted: Wanted = new Map();
  for (const { line, candidates } of claims)
    for (const c of candidates)
      for (const t of c.takes) {
        const at = wanted.get(t.item);
        if (at) at.push({ line, score: c.score });
        else wanted.set(t.item, [{ line, score: c.score }]);
      }
  return wanted;
}

/** Whether the amount is met wholly: a part of an item, or a rest, is a lesser reason. */
const isExact = (c: Candidate): boolean =>
  c.rest === 0n && c.reasons.some((r) => r.what === "amount" && r.weight > 20);

const isLate = (c: Candidate): boolean =>
  c.takes.some((t) => t.discount !== 0n) && !isExact(c) && c.rest === 0n;

const isKeyed = (c: Candidate): boolean =>
  c.reasons.some((r) => r.what === "end-to-end id" || r.what === "cheque number");

const isByRule = (c: Candidate): boolean =>
  c.takes.length === 0 && c.reasons.some((r) => r.what === "rule");

/** Why the first candidate is not certain; "" where it is. */
function doubt(
  line: number,
  ordered: readonly Candidate[],
  first: Candidate | undefined,
  isOwn: boolean,
  wanted: Wanted,
): string {
  if (!first) return "Another line fits its items better";
  if (isOwn && first.takes.length > 0 && !isKeyed(first))
    return "It is between accounts of our own";
  if (
    first.takes.some((t) =>
      wanted.get(t.item)!.some((w) => w.line !== line && w.score > first.score - APART),
    )
  )
    return "Another line could be for the same";
  if (!first.sure && first.transfer) return "The line on the other account is not there yet";
  if (first.reasons.some((r) => r.what === "expected"))
    return "It is expected, but nothing is open for it";
  if (!first.sure && first.takes.length === 0) return "Only its text or its code speaks for it";
  if (!first.sure && isLate(first)) return "The discount is taken after its date";
  if (!first.sure)
    return isExact(first) ? "What speaks for it is not enough" : "The amount differs";
  if (!isKeyed(first) && ordered.some((c) => c !== first && isByRule(c)))
    return "Your rule makes something else of it";
  const rival = ordered[1];
  if (rival && rival.score > first.score - APART)
    return rival.takes.length > 0 && first.takes.length > 0
      ? "Something else fits nearly as well"
      : "It could also be of another kind";
  return "";
}
