import type { FiscalYear } from "../organisation";
import type { PreparedJournal } from "./preparePostings";
import { isResult } from "./types";

/**
 * A change of one stored balance. Period 0 holds what a year opens with. Functional minor units,
 * turnover by side.
 */
export interface BalanceChange {
  companyId: number;
  bookId: number;
  yearId: number;
  periodNo: number;
  closing: boolean;
  accountId: number;
  debit: bigint;
  credit: bigint;
}

/**
 * The same, by coding, currency and the company of the group that the lines concern, with the
 * foreign amounts beside the functional ones.
 */
export interface CodingBalanceChange extends BalanceChange {
  coding: string;
  currency: string;
  /** Id of the company; 0 where a line concerns none. */
  counterpartyId: number;
  foreignDebit: bigint;
  foreignCredit: bigint;
}

export const OPENING_PERIOD = 0;

type Stretch = Pick<BalanceChange, "companyId" | "bookId" | "yearId" | "periodNo" | "closing">;
interface Group extends Stretch {
  accounts: Map<number, BalanceChange>;
  /**
   * By account, then by coding, currency and counterparty: a load has as many of these as lines, so
   * keys are kept short.
   */
  codings: Map<number, Map<string, CodingBalanceChange>>;
}

/**
 * What journals do to the stored balances: turnover of their period by side, and the openings of
 * every later year.
 * Rule: accounts of the balance sheet carry forward; result accounts open each year at zero.
 * An opening keeps a net amount, as a debit that may be negative; by coding only turnover is kept,
 * and openings are summed when asked for.
 * Order: accounts ascending by key within each company, year and period. Rows are locked by their
 * company's chain before they are touched.
 */
export function balanceChanges(
  journals: readonly PreparedJournal[],
  years: readonly FiscalYear[],
): { accounts: BalanceChange[]; codings: CodingBalanceChange[] } {
  const groups = new Map<string, Group>();
  const groupOf = (stretch: Stretch): Group => {
    const key = `${stretch.companyId}|${stretch.bookId}|${stretch.yearId}|${stretch.periodNo}|${stretch.closing}`;
    const found = groups.get(key) ?? { ...stretch, accounts: new Map(), codings: new Map() };
    groups.set(key, found);
    return found;
  };
  for (const journal of journals) {
    const own = years.find((y) => y.id === journal.period.yearId)!;
    const place = { companyId: journal.company.id, bookId: journal.bookId };
    const group = groupOf({
      ...place,
      yearId: own.id,
      periodNo: journal.period.no,
      closing: journal.closing,
    });
    const later = years
      .filter((y) => y.companyId === journal.company.id && y.start > own.start)
      .map((y) => groupOf({ ...place, yearId: y.id, periodNo: OPENING_PERIOD, closing: false }));
    for (const line of journal.lines) {
      const isDebit = line.side === "debit";
      const debit = isDebit ? line.amount : 0n;
      const credit = isDebit ? 0n : line.amount;
      addTo(group, line.account.id, debit, credit);
      let codings = group.codings.get(line.account.id);
      if (!codings) group.codings.set(line.account.id, (codings = new Map()));
      const counterpartyId = line.counterparty?.id ?? 0;
      const key = `${line.currency}${counterpartyId || ""} ${line.coding}`;
      const row = codings.get(key);
      const foreignDebit = isDebit ? line.foreignAmount : 0n;
      const foreignCredit = isDebit ? 0n : line.foreignAmount;
      if (row) {
        row.debit += debit;
        row.credit += credit;
        row.foreignDebit += foreignDebit;
        row.foreignCredit += foreignCredit;
      } else {
        const { companyId, bookId, yearId, periodNo, closing } = group;
        codings.set(key, {
          companyId,
          bookId,
          yearId,
          periodNo,
          closing,
          accountId: line.account.id,
          coding: line.coding,
          currency: line.currency,
          counterpartyId,
          debit,
          credit,
          foreignDebit,
          foreignCredit,
        });
      }
      if (!isResult(line.account.type))
        for (const opening of later) addTo(opening, line.account.id, debit - credit, 0n);
    }
  }
  const ordered = [...groups.values()].sort(
    (a, b) =>
      a.companyId - b.companyId ||
      a.bookId - b.bookId ||
      a.yearId - b.yearId ||
      a.periodNo - b.periodNo,
  );
  return {
    accounts: ordered.flatMap((g) =>
      [...g.accounts.values()].sort((a, b) => a.accountId - b.accountId),
    ),
    codings: ordered.flatMap((g) =>
      [...g.codings].sort(([a], [b]) => a - b).flatMap(([, rows]) => [...rows.values()]),
    ),
  };
}

function addTo(group: Group, accountId: number, debit: bigint, credit: bigint): void {
  const row = group.accounts.get(accountId);
  if (row) {
    row.debit += debit;
    row.credit += credit;
    return;
  }
  const { companyId, bookId, yearId, periodNo, closing } = group;
  group.accounts.set(accountId, {
    companyId,
    bookId,
    yearId,
    periodNo,
    closing,
    accountId,
    debit,
    credit,
  });
}
