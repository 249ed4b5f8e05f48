import { exponentOf, fail, ok, type Found, type Minor, type Result } from "../shared";
import { splitByShares, type ShareSet } from "./shares";

interface Coded {
  account: string;
  dimensions: Readonly<Record<string, string>>;
  company?: string;
}

/**
 * The codings that a cost becomes: its own, or those of its shares, each of which says what differs
 * from it. A company of the group is named where it is another one than `own`.
 * Units: minor units of `currency`, any sign. Rounding: as `splitByShares`.
 * Errors: NOT_FOUND where there are no such shares, INVALID where they do not split it.
 */
export function sharedCoding<L extends Coded>(
  coding: L,
  cost: { amount: Minor; currency: string },
  shares: string,
  known: { sets: ReadonlyMap<string, ShareSet> | undefined; own: string | undefined },
): Result<{ line: L; amount: Minor }[]> {
  if (shares.trim() === "") return ok([{ line: coding, amount: cost.amount }]);
  const set = known.sets?.get(shares.trim().toUpperCase());
  if (!set) return fail({ code: "NOT_FOUND", what: `such shares as ${shares}`, field: "shares" });
  const parts = splitByShares(set, cost.amount, exponentOf(cost.currency));
  if (!parts.ok) {
    const found = parts.problems.map((p) => ({ ...p, field: "shares" }));
    return fail(...(found as [Found, ...Found[]]));
  }
  return ok(
    parts.value.map(({ target, amount }) => ({
      line: {
        ...coding,
        account: target.account || coding.account,
        dimensions: { ...coding.dimensions, ...target.dimensions },
        ...(target.company && target.company !== known.own ? { company: target.company } : {}),
      },
      amount,
    })),
  );
}
