import { minor, type Minor } from "./minor";

/**
 * The part of an amount that belongs to `part` of `whole`.
 * Units: minor units; `part` and `whole` are of any common unit, each of either sign: of a debt both
 * are negative. Where the whole is zero, so is the part.
 * Rounding: half away from zero.
 * @example proportion(-100n, 1n, 8n) // -13
 */
export function proportion(amount: bigint, part: bigint, whole: bigint): Minor {
  if (whole === 0n) return minor(0n);
  const product = whole < 0n ? -amount * part : amount * part;
  const size = product < 0n ? -product : product;
  const of = whole < 0n ? -whole : whole;
  const rounded = (size * 2n + of) / (of * 2n);
  return minor(product < 0n ? -rounded : rounded);
}
