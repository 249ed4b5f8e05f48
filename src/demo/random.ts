/**
 * A small repeatable generator (mulberry32): the scenario has to come out the same on every
 * machine.
 */
export function randomFrom(seed: number): {
  next(): number;
  between(low: number, high: number): number;
  pick<T>(items: readonly T[]): T;
} {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    between: (low, high) => Math.floor(low + next() * (high - low + 1)),
    pick: (items) => items[Math.floor(next() * items.length)]!,
  };
}
