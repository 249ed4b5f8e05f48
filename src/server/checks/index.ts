import type { Company, Period } from "@/core/organisation";
import type { Context } from "../access";

/** What is closed: a stretch of periods of a company in a book. */
export interface ClosePlace {
  company: Company;
  bookId: number;
  /** All periods of the company, with the states of every area. */
  all: readonly Period[];
  closing: readonly Period[];
  last: Period;
  from: string;
  to: string;
  /** The place as part of an address. */
  query: string;
}

export interface Finding {
  state: "holds" | "fails" | "warns";
  /** What was found, in a sentence. */
  finding: string;
  /** Where to go about it. */
  door: string | null;
}

/** A check of a close, as the area that knows about it defines it. */
export interface CloseCheckKind {
  code: string;
  name: string;
  look(context: Context, place: ClosePlace): Promise<Finding>;
}

export interface CloseCheck extends Finding {
  code: string;
  name: string;
}

export * from "./subLedger";
export * from "./verifyCheck";
