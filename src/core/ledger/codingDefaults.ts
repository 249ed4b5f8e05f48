import type { Masters } from "./masters";

type Dimensions = Readonly<Record<string, string>>;

/**
 * A coding with the usual values of where it comes from, such as a bank account: each where the coding
 * has none of that dimension and its account takes one.
 */
export function withUsualValues(
  masters: Masters,
  coding: { account: string; dimensions: Dimensions },
  usual: Dimensions,
): Record<string, string> {
  const rules = masters.accountByNumber.get(coding.account.trim())?.rules ?? {};
  const taken = Object.entries(usual).filter(([code, value]) => {
    const dimension = masters.dimensionByCode.get(code);
    const rule = dimension && rules[dimension.id];
    return (
      value.trim() !== "" &&
      (coding.dimensions[code] ?? "").trim() === "" &&
      dimension !== undefined &&
      rule !== "forbidden"
    );
  });
  return { ...coding.dimensions, ...Object.fromEntries(taken) };
}
