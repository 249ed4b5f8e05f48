import { minor, type Minor } from "./minor";

/**
 * Splits an amount by weights without losing or making a minor unit (largest remainder method,
 * Hamilton).
 * Units: minor units; weights are non-negative integers of any common unit, `weightsOf` makes them from
 * decimals.
 * Rounding: each part is rounded towards zero, then the units left over go one each to the largest
 * remainders;
 * among equal remainders to the earlier receiver, so that whoever splits by hand finds the same.
 * Errors: throws on no weights, a negative weight, or weights that are all zero with an amount that
 * is not.
 * @example split(minor(100n), [1n, 1n, 1n]) // 34, 33, 33
 */
export function split(total: Minor, weights: readonly bigint[]): Minor[] {
  if (weights.length === 0) throw new RangeError("split needs at least one weight");
  if (weights.some((w) => w < 0n)) throw new RangeError("split: a weight is negative");
  const whole = weights.reduce((a, b) => a + b, 0n);
  if (whole === 0n) {
    if (total !== 0n) throw new RangeError("split: all weights are zero");
    return weights.map(() => minor(0n));
  }
  const sign = total < 0n ? -1n : 1n;
  const size = total * sign;
  const parts = weights.map((w) => (size * w) / whole);
  const left = Number(size - parts.reduce((a, b) => a + b, 0n));
  const order = weights.map((weight, index) => ({
    index,
    remainder: (size * weight) % whole,
  }));
  order.sort((a, b) => compare(b.remainder, a.remainder) || a.index - b.index);
  for (const { index } of order.slice(0, left)) parts[index] = parts[index]! + 1n;
  return parts.map((p) => minor(p * sign));
}

/**
 * Whole numbers in the proportion of decimals such as "33.3333" and "2". Exact. Errors: throws on
 * text that is no decimal.
 */
export function weightsOf(decimals: readonly string[]): bigint[] {
  const places = Math.max(0, ...decimals.map((d) => (d.split(".")[1] ?? "").length));
  return decimals.map((d) => {
    const [whole = "0", fraction = ""] = d.split(".");
    return BigInt(whole + fraction.padEnd(places, "0"));
  });
}

const compare = (a: bigint, b: bigint): number => (a < b ? -1 : a > b ? 1 : 0);
