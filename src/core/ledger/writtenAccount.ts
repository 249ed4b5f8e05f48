import type { Found, Place } from "../shared";
import type { Masters } from "./masters";
import type { Account, ControlKind } from "./types";

/**
 * Control accounts whose balance is a list that documents keep: open items, bank lines, leftovers of
 * receipts, tax records, what companies owe each other, money under way. It is the same in every book; valuations
 * differ on adjustment accounts beside.
 */
export const LISTED_CONTROLS: ReadonlySet<ControlKind> = new Set([
  "payables",
  "receivables",
  "bank",
  "GRNI",
  "tax",
  "intercompany",
  "transit",
]);

/**
 * Whether a person may choose the account as the coding of a document. On an account with a list
 * only what the system adds may stand, since only that leaves its entry in the list.
 */
export const takesWriting = (account: Pick<Account, "control">): boolean =>
  account.control === null || !LISTED_CONTROLS.has(account.control);

/**
 * What stands against an account that a person chose for a document, a template or a default, at
 * the place where it was chosen; null where nothing does, also where none was chosen yet.
 */
export function writtenAccountProblem(
  masters: Masters,
  number: string,
  place: Place,
): Found | null {
  if (number.trim() === "") return null;
  const account = masters.accountByNumber.get(number.trim());
  if (!account) return { code: "ACCOUNT_UNKNOWN", account: number, ...place };
  if (takesWriting(account)) return null;
  return { code: "CONTROL_ACCOUNT", account: number, control: account.control!, ...place };
}
