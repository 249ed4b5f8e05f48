import { minor, type Minor } from "./minor";

/**
 * The part of an amount that belongs to `part` of `whole`.
 * Units: minor units; `part` and `whole` are of any common unit. `whole` is not negative; where it
 * is zero, so is the part.
 * Rounding: half away from zero.
 * @example proportion(-100n, 1n, 8n) // -13
 */
export function proportion(amount: bigint, part: bigint, whole: bigint): Minor {
  if (whole === 0n) return minor(0n);
  const product = amount * part;
  const size = product < 0n ? -product : product;
  const rounded = (size * 2n + whole) / (whole * 2n);
  return minor(product < 0n ? -rounded : rounded);
}
