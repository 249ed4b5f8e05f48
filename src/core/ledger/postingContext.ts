import type { Area } from "../access";
import type { FiscalYear, Period } from "../organisation";
import type { CalendarDate } from "../shared";
import type { Masters } from "./masters";

/**
 * A posted year end: results of its year and book that still arrive are carried on by companion
 * journals.
 */
export interface PostedYearEnd {
  companyId: number;
  yearId: number;
  bookId: number;
  retainedEarnings: string;
  byDimension: boolean;
  run: { id: number; number: string };
}

/** Up to which day the account of a bank account is reconciled: nothing moves it before. */
export interface Reconciled {
  companyId: number;
  /** Number of the ledger's account. */
  account: string;
  currency: string;
  until: CalendarDate;
  /** The bank account, as people know it. */
  bank: string;
}

/** What posting needs to know, loaded and locked before it begins. */
export interface PostingContext {
  masters: Masters;
  /** Of every company that the drafts name, ascending. */
  years: readonly FiscalYear[];
  periods: readonly Period[];
  yearEnds: readonly PostedYearEnd[];
  reconciled: readonly Reconciled[];
  /** Codes of the partners that the drafts name and that are there. */
  partners: ReadonlySet<string>;
  /** Whether the person may post in this area of this company. */
  mayPost(area: Area, company: string): boolean;
  mayPostWhileClosing(company: string): boolean;
}
