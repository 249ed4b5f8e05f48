import type { Minor } from "../../shared";

/** By how many hundredths the bank's own rate may lie beside the day's. */
export const BESIDE_RATE = 3n;

/**
 * Whether two amounts are the two sides of one exchange: the one goes where the other comes, and both
 * are worth the same but for what a bank takes for it. In one currency, minor units; undefined where no
 * rate is known, and nothing is then said to be the same.
 */
export const isWorthTheSame = (a: Minor | undefined, b: Minor | undefined): boolean => {
  if (a === undefined || b === undefined) return false;
  const [sum, size] = [a + b, a < 0n ? -a : a];
  return (sum < 0n ? -sum : sum) * 100n <= size * BESIDE_RATE;
};
