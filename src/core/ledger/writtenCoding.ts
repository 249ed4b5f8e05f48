import type { Found, Place } from "../shared";
import type { Masters } from "./masters";
import { readCoding } from "./readCoding";
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
  const account = masters.accountByNumber.get(coding.account.trim()) ?? null;
  return readCoding(masters, account, coding.dimensions, { date: null }, place).found;
}
