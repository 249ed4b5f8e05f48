import type { Area } from "../access";
import type { CalendarDate } from "../shared";

export interface Company {
  id: number;
  code: string;
  name: string;
  currency: string;
  country: string;
}

/** A company with what papers and files of it carry. */
export interface CompanyDetails extends Company {
  street: string;
  postcode: string;
  city: string;
  /** Its own number with the tax office, as suppliers write it on invoices. */
  taxNumber: string;
  /** Legal entity identifier (ISO 17442), or nothing. */
  lei: string;
  /** By which it is known as a creditor of direct debits (EPC 262-08); "" where it has none. */
  creditorId: string;
}

/**
 * An accounting basis. Journals belong to all books or to one; the main book is the default
 * everywhere.
 */
export interface Book {
  id: number;
  code: string;
  name: string;
  main: boolean;
  /** An ended book is read, and takes no more postings. */
  ended: boolean;
}

/** The key under which what is common to all books is kept. */
export const COMMON_BOOK = 0;

export const PERIOD_STATES = ["not-yet", "open", "closing", "closed"] as const;
export type PeriodState = (typeof PERIOD_STATES)[number];

export interface FiscalYear {
  id: number;
  companyId: number;
  name: string;
  description: string;
  start: CalendarDate;
  end: CalendarDate;
}

/**
 * A part of a fiscal year. An adjustment period lies on the last day of its year and is chosen,
 * never found by date.
 */
export interface Period {
  yearId: number;
  yearName: string;
  companyId: number;
  no: number;
  name: string;
  start: CalendarDate;
  end: CalendarDate;
  adjustment: boolean;
  /** State by book id, then by area. A missing entry is "not-yet". */
  states: Readonly<Record<number, Partial<Record<Area, PeriodState>>>>;
}

/** The key of a period within its company, as in links and the interface for programs: 2026-10. */
export const periodKey = (p: Pick<Period, "yearName" | "no">): string =>
  `${p.yearName}-${String(p.no).padStart(2, "0")}`;

export const stateOf = (p: Period, bookId: number, area: Area): PeriodState =>
  p.states[bookId]?.[area] ?? "not-yet";

/** Name of a period for people: Oct 2026, or Adjustments 2026. */
export const periodName = (p: Pick<Period, "name" | "yearName">): string =>
  `${p.name} ${p.yearName}`;
