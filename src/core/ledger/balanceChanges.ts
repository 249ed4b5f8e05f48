import type { FiscalYear } from "../organisation";
import type { PreparedJournal } from "./preparePostings";
import { isResult } from "./types";

/** A change of one stored balance. Period 0 holds what a year opens with. Functional minor units, turnover by side. */
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

/** The same, by coding and currency, with the foreign amounts beside the functional ones. */
export interface CodingBalanceChange extends BalanceChange {
  coding: string;
  currency: string;
  foreignDebit: bigint;
  foreignCredit: bigint;
}

export const OPENING_PERIOD = 0;

/**
 * What journals do to the stored balances: turnover of their period by side, and the openings of every later year.
 * Rule: accounts of the balance sheet carry forward; result accounts open each year at zero.
 * An opening keeps a net amount, as a debit that may be negative.
 * Order: ascending by key, the order in which the rows are locked.
 */
export function balanceChanges(journals: readonly PreparedJournal[], years: readonly FiscalYear[]): { accounts: BalanceChange[]; codings: CodingBalanceChange[] } {
  const accounts = new Map<string, BalanceChange>();
  const codings = new Map<string, CodingBalanceChange>();
  for (const journal of journals) {
    const own = years.find((y) => y.id === journal.period.yearId)!;
    const later = years.filter((y) => y.companyId === journal.company.id && y.start > own.start);
    for (const line of journal.lines) {
      const isDebit = line.side === "debit";
      add(journal.period.yearId, journal.period.no, journal.closing, isDebit ? line.amount : 0n, isDebit ? 0n : line.amount, isDebit ? line.foreignAmount : 0n, isDebit ? 0n : line.foreignAmount);
      if (!isResult(line.account.type)) {
        const net = isDebit ? line.amount : -line.amount;
        for (const year of later) add(year.id, OPENING_PERIOD, false, net, 0n, 0n, 0n);
      }
      function add(yearId: number, periodNo: number, closing: boolean, debit: bigint, credit: bigint, foreignDebit: bigint, foreignCredit: bigint): void {
        const key = { companyId: journal.company.id, bookId: journal.bookId, yearId, periodNo, closing, accountId: line.account.id };
        const text = `${key.companyId}|${key.bookId}|${yearId}|${periodNo}|${closing ? 1 : 0}|${key.accountId}`;
        const row = accounts.get(text);
        if (row) {
          row.debit += debit;
          row.credit += credit;
        } else accounts.set(text, { ...key, debit, credit });
        // By coding only turnover is kept; openings by coding are summed when they are asked for.
        if (periodNo === OPENING_PERIOD) return;
        const codingText = `${text}|${line.coding}|${line.currency}`;
        const codingRow = codings.get(codingText);
        if (codingRow) {
          codingRow.debit += debit;
          codingRow.credit += credit;
          codingRow.foreignDebit += foreignDebit;
          codingRow.foreignCredit += foreignCredit;
        } else codings.set(codingText, { ...key, coding: line.coding, currency: line.currency, debit, credit, foreignDebit, foreignCredit });
      }
    }
  }
  const order = (a: BalanceChange, b: BalanceChange): number =>
    a.companyId - b.companyId || a.bookId - b.bookId || a.yearId - b.yearId || a.periodNo - b.periodNo || Number(a.closing) - Number(b.closing) || a.accountId - b.accountId;
  return {
    accounts: [...accounts.values()].sort(order),
    codings: [...codings.values()].sort((a, b) => order(a, b) || (a.coding < b.coding ? -1 : a.coding > b.coding ? 1 : 0) || (a.currency < b.currency ? -1 : 1)),
  };
}
