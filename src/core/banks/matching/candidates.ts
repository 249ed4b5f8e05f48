import { isMet } from "./itemIndex";
import { expectedCandidates } from "./expected";
import { explain, fits, isKnown, partnersOf, size, type Known, type Mentions } from "./explain";
import { rememberedCandidate } from "./remembered";
import { ruleOf } from "./rules";
import { sumsTo } from "./sumsTo";
import type { Candidate, MatchItem, MatchLine, MatchReason } from "./types";

/** Open items of a partner among which sums are looked for. */
const MOST_SUMMED = 24;
/** Items of the very amount, whoever's they are, that are still worth a look. */
const MOST_OF_AMOUNT = 5;

/**
 * Every explanation of a line that its own words, numbers and amount give, the best first. What is
 * sure is sure by itself: other lines may still want the same items.
 */
export function candidatesOf(line: MatchLine, known: Known): Candidate[] {
  const found = new Map<string, Candidate>();
  const add = (c: Candidate | null) => {
    if (!c) return;
    const takes = c.takes.map((t) => `${t.item}:${t.amount}`).sort();
    const key = `${c.kind} ${c.coding?.account ?? ""} ${c.onAccount ? c.partner : ""} ${takes.join()}`;
    const before = found.get(key);
    if (!before || before.score < c.score) found.set(key, c);
  };
  addKeyed(line, known, add);
  addBatch(line, known, add);
  const mentioned = known.index.mentioned(line);
  addMentioned(line, known, mentioned, add);
  addOfPartners(line, known, mentioned, add);
  for (const i of known.index.byAmount(line).slice(0, MOST_OF_AMOUNT))
    if (isMet(line, i)) add(explain(line, known, [i], { mentioned }));
  addKinds(line, known, add);
  addRule(line, known, add);
  expectedCandidates(line, known).forEach(add);
  add(rememberedCandidate(line, known.memory));
  return [...found.values()].sort(
    (a, b) => b.score - a.score || a.takes.length - b.takes.length || idOf(a) - idOf(b),
  );
}
const idOf = (c: Candidate): number => c.takes[0]?.item ?? 0;

type Add = (c: Candidate | null) => void;

/** Our own id that comes back, or the number of a cheque: nothing is surer. */
function addKeyed(line: MatchLine, known: Known, add: Add): void {
  const { endToEnd, cheque } = line.keys;
  for (const [items, what, id] of [
    [known.index.byEndToEnd(endToEnd), "end-to-end id", endToEnd],
    [known.index.byCheque(cheque), "cheque number", cheque],
  ] as const)
    for (const i of items)
      if (isMet(line, i))
        add(
          explain(line, known, [i], {
            mentioned: new Map(),
            key: { what, weight: 90, says: `its ${what} is ${id}, which is ours` },
          }),
        );
}

/** A block of our file that the bank has booked as one, without its parts. */
function addBatch(line: MatchLine, known: Known, add: Add): void {
  const { endToEnd: id } = line.keys;
  const items = known.index.byBatch(id).filter((i) => isMet(line, i));
  if (items.length > 0)
    add(
      explain(line, known, items, {
        mentioned: new Map(),
        key: {
          what: "end-to-end id",
          weight: 90,
          says: `it is the block ${id} of a file of ours, booked as one`,
        },
      }),
    );
}

/** Items whose numbers stand in the text: of one partner all together, some, or each. */
function addMentioned(line: MatchLine, known: Known, mentioned: Mentions, add: Add): void {
  const byPartner = new Map<string, MatchItem[]>();
  for (const [item, mention] of mentioned) {
    // A bare number means something only where the partner is known by something else.
    if (mention === "bare" && !isKnown(line, known, item.partner)) continue;
    byPartner.set(item.partner, [...(byPartner.get(item.partner) ?? []), item]);
  }
  for (const items of byPartner.values()) {
    add(explain(line, known, items, { mentioned }));
    if (items.length > 1) {
      for (const i of items.slice(0, 4)) add(explain(line, known, [i], { mentioned }));
      for (const s of sumsTo(items.slice(0, MOST_SUMMED), line.amount, 2))
        add(explain(line, known, s, { mentioned }));
    }
  }
}

/** Items of the partners whom the account or the name means. */
function addOfPartners(line: MatchLine, known: Known, mentioned: Mentions, add: Add): void {
  for (const partner of partnersOf(line, known)) {
    const items = known.index
      .ofPartner(partner)
      .filter((i) => isMet(line, i))
      .sort((a, b) => (a.due < b.due ? -1 : a.due > b.due ? 1 : a.id - b.id));
    const exact = items.filter((i) => fits(line, [i]) !== null);
    for (const i of exact.slice(0, 3)) add(explain(line, known, [i], { mentioned, of: exact }));
    if (exact.length > 0) continue;
    const sums = sumsTo(items.slice(0, MOST_SUMMED), line.amount, 3);
    for (const s of sums) add(explain(line, known, s, { mentioned, sums: sums.length }));
    // The oldest, in part, where nothing else is said.
    const oldest = items[0];
    if (sums.length === 0 && oldest && size(oldest.left) > size(line.amount))
      add(explain(line, known, [oldest], { mentioned }));
  }
}

/** What the first of the company's rules that means the line makes of it. */
function addRule(line: MatchLine, { rules, kinds }: Known, add: Add): void {
  const rule = ruleOf(rules, line);
  if (!rule) return;
  const { outcome } = rule;
  if (outcome.is !== "kind" && outcome.is !== "coding") return;
  const kind = outcome.is === "kind" ? outcome.kind : "";
  add({
    takes: [],
    partner: "",
    kind,
    coding: outcome.is === "coding" ? outcome.coding : null,
    transfer: null,
    rest: line.amount,
    score: 85,
    reasons: [{ what: "rule", weight: 85, says: `your rule “${rule.name}” means it` }],
    sure: outcome.is === "coding" || (kinds.find((k) => k.code === kind)?.coded ?? false),
  });
}

/** What a line means by the bank's code, or by words in its text. */
function addKinds(line: MatchLine, { kinds }: Known, add: Add): void {
  const text = ` ${line.text.toUpperCase().replace(/[^A-ZÀ-Þ0-9]+/g, " ")} `;
  for (const k of kinds) {
    if (k.side !== "both" && (k.side === "in") !== line.amount > 0n) continue;
    const byCode = k.codes.some((c) => line.code !== "" && line.code.startsWith(c));
    const word = k.words.find((w) => text.includes(` ${w} `));
    if (!byCode && !word) continue;
    const reasons: MatchReason[] = [];
    if (byCode)
      reasons.push({ what: "kind", weight: 60, says: `the bank's code ${line.code} is ${k.name}` });
    if (word)
      reasons.push({
        what: "kind",
        weight: byCode ? 10 : 30,
        says: `“${word.toLowerCase()}” in the text is a word for ${k.name}`,
      });
    add({
      takes: [],
      partner: "",
      kind: k.code,
      coding: null,
      transfer: null,
      rest: line.amount,
      score: reasons.reduce((t, r) => t + r.weight, 0),
      reasons,
      sure: k.coded && byCode,
    });
  }
}
