import { array, object, string, type InferType } from "yup";
import Decimal from "decimal.js";
import { fail, minor, ok, split, textRecord, weightsOf, type Minor, type Result } from "../shared";

/**
 * How a cost is split: by per cent, by fixed amounts of which the last one takes what is left, or
 * by units such as floor area.
 */
export const SHARE_WAYS = ["per cent", "fixed amounts", "units"] as const;

export const shareSchema = object({
  code: string()
    .trim()
    .uppercase()
    .required("A code is needed")
    .matches(/^[A-Z0-9-]{1,20}$/, "A code has capitals, figures and dashes"),
  name: string().trim().required("A name is needed").max(80),
  way: string().oneOf(SHARE_WAYS).default("per cent"),
  targets: array(
    object({
      /**
       * The company that bears it, where it is another one; an account, where it is not the line's
       * own.
       */
      company: string().default("").max(20),
      account: string().default("").max(20),
      dimensions: textRecord(),
      /**
       * Per cent, an amount in the invoice's currency, or units: a decimal. Empty with fixed
       * amounts: what is left.
       */
      weight: string()
        .default("")
        .matches(/^\d{0,12}(\.\d{1,9})?$/, "Write a share like 33.33"),
    }),
  )
    .min(1, "At least one target is needed")
    .max(200)
    .required(),
});
export type ShareSet = InferType<typeof shareSchema>;

/**
 * Splits a cost by shares, to the cent. Units: minor units, any sign; weights are decimals of up to
 * nine places.
 * Rounding: largest remainder, so that the parts always add up to the cost; `exponent` is the
 * number of decimals of the currency, in which fixed amounts are; the target without one takes what
 * is left.
 * Errors: INVALID where per cent do not add up to 100, weights are all zero, or fixed amounts leave
 * a rest and nobody takes it.
 */
export function splitByShares(
  set: Pick<ShareSet, "name" | "way" | "targets">,
  cost: Minor,
  exponent = 2,
): Result<{ target: ShareSet["targets"][number]; amount: Minor }[]> {
  const { targets } = set;
  const weights = weightsOf(targets.map((t) => t.weight || "0"));
  const whole = weights.reduce((a, b) => a + b, 0n);
  if (set.way === "fixed amounts") {
    const sign = cost < 0n ? -1n : 1n;
    const fixed = targets.map((t) =>
      t.weight === ""
        ? null
        : sign *
          BigInt(
            new Decimal(t.weight)
              .mul(new Decimal(10).pow(exponent))
              .toDecimalPlaces(0, Decimal.ROUND_HALF_UP)
              .toFixed(0),
          ),
    );
    const rest = cost - fixed.reduce<bigint>((a, b) => a + (b ?? 0n), 0n);
    const open = fixed.filter((f) => f === null).length;
    if (open > 1)
      return fail({
        code: "INVALID",
        what: `Shares ${set.name}: only one target can take what is left`,
      });
    if (open === 0 && rest !== 0n)
      return fail({
        code: "INVALID",
        what: `Shares ${set.name}: the fixed amounts do not come to the cost, and no target takes what is left`,
      });
    if (rest !== 0n && rest > 0n !== sign > 0n)
      return fail({
        code: "INVALID",
        what: `Shares ${set.name}: the fixed amounts are more than the cost`,
      });
    return ok(targets.map((target, i) => ({ target, amount: minor(fixed[i] ?? rest) })));
  }
  const percent = targets.reduce((t, x) => t.plus(x.weight || "0"), new Decimal(0));
  if (set.way === "per cent" && !percent.equals(100))
    return fail({ code: "INVALID", what: `Shares ${set.name}: the per cent do not add up to 100` });
  if (whole === 0n)
    return fail({ code: "INVALID", what: `Shares ${set.name}: no target has any units` });
  return ok(split(cost, weights).map((amount, i) => ({ target: targets[i]!, amount })));
}
