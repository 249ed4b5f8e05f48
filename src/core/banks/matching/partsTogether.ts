import type { Claims } from "./assign";
import { size } from "./explain";
import type { Candidate } from "./types";

/**
 * The candidates of lines that pay one item in parts and come to exactly what is left of it, by
 * line, with that as a reason of its own. What was given to each line is the place of a candidate.
 */
export function partsTogether(
  claims: readonly Claims[],
  given: ReadonlyMap<number, number>,
  leftOf: ReadonlyMap<number, bigint>,
): Map<number, Candidate> {
  const byItem = new Map<number, { line: number; candidate: Candidate }[]>();
  for (const { line, candidates } of claims) {
    const candidate = candidates[given.get(line) ?? -1];
    const only = candidate?.takes.length === 1 ? candidate.takes[0]! : null;
    if (!candidate || !only || size(only.amount) === leftOf.get(only.item)) continue;
    const at = byItem.get(only.item);
    if (at) at.push({ line, candidate });
    else byItem.set(only.item, [{ line, candidate }]);
  }
  const together = new Map<number, Candidate>();
  for (const [item, parts] of byItem) {
    const sum = parts.reduce((t, p) => t + size(p.candidate.takes[0]!.amount), 0n);
    if (parts.length < 2 || sum !== leftOf.get(item)) continue;
    const others = parts.length === 2 ? "the other line" : `${parts.length - 1} other lines`;
    const says = `with ${others} for it, it is exactly what is left`;
    for (const { line, candidate } of parts)
      together.set(line, {
        ...candidate,
        score: candidate.score + WEIGHT,
        reasons: [...candidate.reasons, { what: "amount", weight: WEIGHT, says }],
      });
  }
  return together;
}

/** As much as an amount that is nearly met: people still look at it. */
const WEIGHT = 15;
