import type { Minor } from "../../shared";

/** Steps after which no further sums are looked for. */
const MOST_STEPS = 20_000;

/**
 * Sets of two or more items that come to an amount exactly, at most so many; those of few items
 * first. All items have the amount's sign. Work is limited: among many items not every sum is found.
 */
export function sumsTo<I extends { id: number; left: Minor }>(
  items: readonly I[],
  amount: bigint,
  most: number,
): (readonly I[])[] {
  const size = (a: bigint): bigint => (a < 0n ? -a : a);
  const target = size(amount);
  const of = items
    .filter((i) => size(i.left) < target)
    .sort((a, b) =>
      size(b.left) > size(a.left) ? 1 : size(b.left) < size(a.left) ? -1 : a.id - b.id,
    );
  // What all behind a place come to: where that is too little, nothing is left to try.
  const behind = new Array<bigint>(of.length + 1).fill(0n);
  for (let i = of.length - 1; i >= 0; i--) behind[i] = behind[i + 1]! + size(of[i]!.left);
  const found: (readonly I[])[] = [];
  let steps = 0;
  const search = (from: number, left: bigint, taken: readonly I[]): void => {
    if (left === 0n && taken.length > 1) found.push(taken);
    if (left === 0n) return;
    for (let i = from; i < of.length && behind[i]! >= left; i++) {
      if (found.length >= most || ++steps > MOST_STEPS) return;
      const next = left - size(of[i]!.left);
      if (next >= 0n) search(i + 1, next, [...taken, of[i]!]);
    }
  };
  search(0, target, []);
  return found.sort((a, b) => a.length - b.length);
}
