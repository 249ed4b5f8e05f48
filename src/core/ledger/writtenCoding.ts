import type { Found, Place } from "../shared";
import type { Masters } from "./masters";
import { writtenAccountProblem } from "./writtenAccount";

/**
 * What stands against a coding that a person chose for later: the account, values that there are
 * not or that the account does not take, and values that it needs. Days are looked at when it is
 * posted.
 */
export function writtenCodingProblems(
  masters: Masters,
  coding: { account: string; dimensions: Readonly<Record<string, string>> },
  place: Place = {},
): Found[] {
  const fault = writtenAccountProblem(masters, coding.account, { ...place, field: "account" });
  if (fault) return [fault];
  const account = masters.accountByNumber.get(coding.account.trim());
  const found: Found[] = [];
  for (const [code, text] of Object.entries(coding.dimensions)) {
    if (text.trim() === "") continue;
    const dimension = masters.dimensionByCode.get(code);
    const at = { ...place, field: code };
    if (!dimension) {
      found.push({ code: "DIMENSION_UNKNOWN", dimension: code, ...at });
      continue;
    }
    const name = dimension.name.toLowerCase();
    const value = masters.value(dimension.id, text.trim());
    if (!value) found.push({ code: "VALUE_UNKNOWN", dimension: name, value: text, ...at });
    else if (value.blocked)
      found.push({ code: "VALUE_BLOCKED", dimension: name, value: value.code, ...at });
    else if (account?.rules[dimension.id] === "forbidden")
      found.push({ code: "DIMENSION_FORBIDDEN", dimension: name, account: account.number, ...at });
  }
  for (const [id, rule] of Object.entries(account?.rules ?? {})) {
    const dimension = masters.dimensionById.get(Number(id));
    if (rule === "required" && dimension && !coding.dimensions[dimension.code]?.trim())
      found.push({
        code: "DIMENSION_REQUIRED",
        dimension: dimension.name.toLowerCase(),
        account: account!.number,
        ...place,
        field: dimension.code,
      });
  }
  return found;
}
