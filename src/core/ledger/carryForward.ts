import { periodKey } from "../organisation";
import { codingFromKey, type Coding } from "./coding";
import type { Masters } from "./masters";
import type { PostingContext } from "./postingContext";
import type { PreparedJournal } from "./preparePostings";
import { isResult, type DraftLine, type JournalDraft } from "./types";
import { minor } from "../shared";

/** Dimension values by the codes that people use, from a resolved coding. */
export function dimensionsOf(coding: Coding, masters: Masters): Record<string, string> {
  const named: Record<string, string> = {};
  for (const { valueId } of coding) {
    const value = masters.valueById.get(valueId);
    const dimension = value && masters.dimensionById.get(value.dimensionId);
    if (value && dimension) named[dimension.code] = value.code;
  }
  return named;
}

/** The type of the journals that carry results to retained earnings. */
export const CLOSING_TYPE = "year-end";

/**
 * Companion journals for results that arrive in a year and book whose year end is posted already:
 * each carries the result of one journal to retained earnings, so that the next year's opening
 * stays right.
 * Textbook rule: closing entries empty the result accounts into retained earnings.
 * Returns drafts that still have to be prepared; [] where nothing has to be carried.
 */
export function carryForward(
  journals: readonly PreparedJournal[],
  context: PostingContext,
): JournalDraft[] {
  const companions: JournalDraft[] = [];
  for (const journal of journals) {
    if (journal.closing) continue;
    const results = journal.lines.filter((l) => isResult(l.account.type));
    if (results.length === 0) continue;
    for (const yearEnd of context.yearEnds) {
      if (yearEnd.companyId !== journal.company.id || yearEnd.yearId !== journal.period.yearId)
        continue;
      if (journal.bookId !== 0 && journal.bookId !== yearEnd.bookId) continue;
      const book = context.masters.bookById.get(yearEnd.bookId)!;
      const amounts = results.map((l) => ({
        account: l.account.number,
        coding: l.coding,
        net: l.side === "debit" ? l.amount : -l.amount,
      }));
      companions.push({
        company: journal.company.code,
        type: CLOSING_TYPE,
        book: book.code,
        date: journal.date,
        period: periodKey(journal.period),
        description: `Result carried forward: ${journal.description}`.slice(0, 200),
        origin: yearEnd.run.id,
        closing: true,
        lines: closingLines(
          amounts,
          yearEnd.retainedEarnings,
          yearEnd.byDimension,
          context.masters,
        ),
      });
    }
  }
  return companions.filter((c) => c.lines.length > 0);
}

/**
 * Lines that empty result balances into retained earnings.
 * Units: `net` in functional minor units, debit positive. With `byDimension` retained earnings
 * keeps each coding apart.
 */
export function closingLines(
  balances: readonly { account: string; coding: string; net: bigint }[],
  retainedEarnings: string,
  byDimension: boolean,
  masters: Masters,
): DraftLine[] {
  const lines: DraftLine[] = [];
  const carried = new Map<string, bigint>();
  for (const { account, coding, net } of balances) {
    if (net === 0n) continue;
    lines.push(line(account, coding, -net));
    const key = byDimension ? coding : "";
    carried.set(key, (carried.get(key) ?? 0n) + net);
  }
  for (const [coding, net] of [...carried].sort(([a], [b]) => (a < b ? -1 : 1)))
    if (net !== 0n) lines.push(line(retainedEarnings, coding, net));
  return lines;

  function line(account: string, coding: string, net: bigint): DraftLine {
    return {
      account,
      dimensions: dimensionsOf(codingFromKey(coding), masters),
      description: "",
      side: net > 0n ? "debit" : "credit",
      amount: minor(net > 0n ? net : -net),
    };
  }
}
