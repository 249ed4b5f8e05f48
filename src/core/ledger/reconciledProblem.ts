import { dateText, isCalendarDate, type Found, type Minor } from "../shared";
import type { Reconciled } from "./postingContext";

/**
 * What stands against a line on the account of a bank account that is reconciled on the day of the
 * journal, or later: the bank's balance was explained then, and stays so. What leaves the balance in
 * the bank's own currency alone, as a revaluation does, passes.
 */
export function reconciledProblem(
  reconciled: readonly Reconciled[],
  line: { account: { number: string }; currency: string; foreignAmount: Minor },
  journal: { companyId: number; date: string },
): Found | null {
  if (line.foreignAmount === 0n || !isCalendarDate(journal.date)) return null;
  const held = reconciled.find(
    (r) =>
      r.companyId === journal.companyId &&
      r.account === line.account.number &&
      r.currency === line.currency &&
      journal.date <= r.until,
  );
  return held
    ? {
        code: "INVALID",
        what: `${held.bank} is reconciled up to ${dateText(held.until)}; take a later day, or reopen the reconciliation first`,
      }
    : null;
}
