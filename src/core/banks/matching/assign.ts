import { size } from "./explain";
import type { Candidate } from "./types";

/** A line with what could explain it, the best first. */
export interface Claims {
  line: number;
  candidates: readonly Candidate[];
}

/** Lines that want the same items, up to which all ways are tried. */
const MOST_TRIED = 12;
const MOST_STEPS = 20_000;

/** What is left of an item, without its sign. */
type LeftOf = (item: number) => bigint;

/**
 * Gives each line at most one of its candidates so that of no item more is taken than is left of it
 * and all scores together are as high as they can be: not the first line first. Several lines may
 * pay one item in parts. Lines that want nothing of each other are looked at apart; where very many
 * want the same, the highest score goes first.
 * Returns the place of the candidate by line.
 */
export function assign(claims: readonly Claims[], leftOf: LeftOf): Map<number, number> {
  const given = new Map<number, number>();
  for (const group of groupsOf(claims)) {
    const chosen = group.length <= MOST_TRIED ? best(group, leftOf) : greedy(group, leftOf);
    group.forEach((c, i) => {
      if (chosen[i]! >= 0) given.set(c.line, chosen[i]!);
    });
  }
  return given;
}

/** Lines that are bound together by items that more than one of them wants. */
function groupsOf(claims: readonly Claims[]): Claims[][] {
  const parent = claims.map((_, i) => i);
  const root = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]!]!;
    return i;
  };
  const wanted = new Map<number, number>();
  claims.forEach((c, i) => {
    for (const candidate of c.candidates)
      for (const t of candidate.takes) {
        const other = wanted.get(t.item);
        if (other === undefined) wanted.set(t.item, i);
        else parent[root(i)] = root(other);
      }
  });
  const groups = new Map<number, Claims[]>();
  claims.forEach((c, i) => {
    const at = groups.get(root(i));
    if (at) at.push(c);
    else groups.set(root(i), [c]);
  });
  return [...groups.values()];
}

/** What lines have taken so far of each item. */
class Taken {
  private readonly of = new Map<number, bigint>();
  constructor(private readonly leftOf: LeftOf) {}
  hasRoomFor = (c: Candidate): boolean =>
    c.takes.every((t) => (this.of.get(t.item) ?? 0n) + size(t.amount) <= this.leftOf(t.item));
  add = (c: Candidate): void => this.count(c, 1n);
  remove = (c: Candidate): void => this.count(c, -1n);
  private count(c: Candidate, times: bigint): void {
    for (const t of c.takes)
      this.of.set(t.item, (this.of.get(t.item) ?? 0n) + times * size(t.amount));
  }
}

function greedy(group: readonly Claims[], leftOf: LeftOf): number[] {
  const chosen = group.map(() => -1);
  const taken = new Taken(leftOf);
  const all = group
    .flatMap((c, i) => c.candidates.map((candidate, place) => ({ i, place, candidate })))
    .sort((a, b) => b.candidate.score - a.candidate.score || a.i - b.i);
  for (const { i, place, candidate } of all) {
    if (chosen[i] !== -1 || candidate.score <= 0 || !taken.hasRoomFor(candidate)) continue;
    chosen[i] = place;
    taken.add(candidate);
  }
  return chosen;
}

function best(group: readonly Claims[], leftOf: LeftOf): number[] {
  let chosen = greedy(group, leftOf);
  if (group.length === 1) return chosen;
  const scoreOf = (of: readonly number[]) =>
    of.reduce((t, place, i) => t + (place < 0 ? 0 : group[i]!.candidates[place]!.score), 0);
  let most = scoreOf(chosen);
  // What those behind a place could bring at best.
  const behind = new Array<number>(group.length + 1).fill(0);
  for (let i = group.length - 1; i >= 0; i--)
    behind[i] = behind[i + 1]! + Math.max(0, group[i]!.candidates[0]?.score ?? 0);
  const now: number[] = [];
  const taken = new Taken(leftOf);
  let steps = 0;
  const search = (i: number, score: number): void => {
    if (++steps > MOST_STEPS || score + behind[i]! <= most) return;
    if (i === group.length) {
      most = score;
      chosen = [...now];
      return;
    }
    group[i]!.candidates.forEach((c, place) => {
      if (c.score <= 0 || !taken.hasRoomFor(c)) return;
      taken.add(c);
      now.push(place);
      search(i + 1, score + c.score);
      now.pop();
      taken.remove(c);
    });
    now.push(-1);
    search(i + 1, score);
    now.pop();
  };
  search(0, 0);
  return chosen;
}
