import { fail, ok, type Result } from "../shared";
import { periodKey, periodName, type Company, type FiscalYear, type Period } from "../organisation";
import { closingLines, CLOSING_TYPE } from "./carryForward";
import type { Masters } from "./masters";
import { isResult, type JournalDraft } from "./types";

export interface YearEndFacts {
  company: Company;
  year: FiscalYear;
  periods: readonly Period[];
  book: string;
  /**
   * Result balances of the year that are not yet carried, by account and coding. Functional minor
   * units, debit positive.
   */
  balances: readonly { accountId: number; coding: string; net: bigint }[];
  retainedEarnings: string;
  byDimension: boolean;
}

/**
 * The closing journal of a year in one book: every result account is emptied, the profit or loss
 * goes to retained earnings.
 * Textbook rule: closing entries at the end of the accounting cycle. It lies in the year's last
 * period (the adjustment period, where there is one).
 * Units: functional minor units; exact. Errors: YEAR_END_NOTHING, ACCOUNT_UNKNOWN.
 */
export function proposeYearEnd(
  facts: YearEndFacts,
  masters: Masters,
): Result<{ draft: JournalDraft; result: bigint; period: Period }> {
  const { year, book } = facts;
  const account = masters.accountByNumber.get(facts.retainedEarnings);
  if (!account || account.type !== "equity")
    return fail({
      code: "ACCOUNT_UNKNOWN",
      account: facts.retainedEarnings,
      field: "retainedEarnings",
    });
  const balances = facts.balances
    .map((b) => ({ account: masters.accountById.get(b.accountId)!, coding: b.coding, net: b.net }))
    .filter((b) => isResult(b.account.type) && b.net !== 0n)
    .sort((a, b) =>
      a.account.number < b.account.number
        ? -1
        : a.account.number > b.account.number
          ? 1
          : a.coding < b.coding
            ? -1
            : 1,
    )
    .map((b) => ({ account: b.account.number, coding: b.coding, net: b.net }));
  if (balances.length === 0) return fail({ code: "YEAR_END_NOTHING", year: year.name, book });
  const period = [...facts.periods]
    .filter((p) => p.yearId === year.id)
    .sort((a, b) => b.no - a.no)[0]!;
  return ok({
    period,
    result: -balances.reduce((total, b) => total + b.net, 0n),
    draft: {
      company: facts.company.code,
      type: CLOSING_TYPE,
      book,
      date: year.end,
      period: periodKey(period),
      description: `Year end ${year.name}: result to retained earnings (${periodName(period)})`,
      closing: true,
      lines: closingLines(balances, facts.retainedEarnings, facts.byDimension, masters),
    },
  });
}
