import { array, boolean, object, string, type InferType } from "yup";
import { DEFAULT_FORMAT, exponentOf, minor, readAmount, readDate, textRecord, type CalendarDate, type Found, type NumberFormat } from "../shared";
import type { DraftLine, JournalDraft } from "./types";
import { MAX_LINES } from "./preparePostings";

/** Any text: what is wrong with it is said by the check, at its place, so that nothing typed is lost before. */
const text = () => string().default("");
/** A megabyte of text is no journal; refuse it before it is worked on. */
const bounded = () => text().max(100_000);

export const journalLineSchema = object({
  account: bounded(),
  dimensions: textRecord(),
  description: bounded(),
  debit: text().max(1000),
  credit: text().max(1000),
});

/** A journal as written by a person or a program: everything is text until it is checked. */
export const journalInputSchema = object({
  company: string().required().max(20),
  type: string().required().max(40),
  date: text().max(100),
  description: bounded(),
  reference: bounded(),
  book: string().nullable().default(null).max(20),
  currency: string().nullable().default(null).max(10),
  period: string().nullable().default(null).max(20),
  lines: array(journalLineSchema).required().max(MAX_LINES + 100),
});
export const journalRequestSchema = journalInputSchema.shape({ post: boolean().default(false) });

export type JournalInput = InferType<typeof journalInputSchema>;
export type JournalLineInput = InferType<typeof journalLineSchema>;

export interface JournalReading {
  draft: JournalDraft;
  /** For each line of the draft, its line in what was written (from 1): blank lines are passed over. */
  lineNumbers: number[];
  problems: Found[];
}

export const isBlankLine = (line: JournalLineInput): boolean =>
  [line.account, line.debit, line.credit, ...Object.values(line.dimensions)].every((t) => t.trim() === "");

/**
 * Turns what was written into a draft with minor units.
 * Units: amounts are decimals of `currency` (the company's functional one). Lines whose amount can't be read carry zero and a problem,
 * and the draft then says nothing about its balance.
 */
export function readJournal(input: JournalInput, currency: string, today: CalendarDate, format: NumberFormat = DEFAULT_FORMAT): JournalReading {
  const problems: Found[] = [];
  const lines: DraftLine[] = [];
  const lineNumbers: number[] = [];
  input.lines.forEach((line, i) => {
    if (isBlankLine(line)) return;
    const at = i + 1;
    const sides = (["debit", "credit"] as const).filter((side) => line[side].trim() !== "");
    let amount = minor(0n);
    if (sides.length === 2) problems.push({ code: "BOTH_SIDES", line: at, field: "credit" });
    else if (sides.length === 1) {
      const side = sides[0]!;
      const reading = readAmount(line[side], currency, format);
      if (reading.ok) amount = reading.amount;
      else problems.push({ ...amountProblem(reading.fault, line[side], currency), line: at, field: side });
    }
    lines.push({
      account: line.account.trim(),
      dimensions: line.dimensions,
      description: line.description,
      side: sides[0] ?? "debit",
      amount,
    });
    lineNumbers.push(at);
  });
  const date = readDate(input.date, today);
  if (input.date.trim() === "") problems.push({ code: "REQUIRED", what: "The date", field: "date" });
  else if (!date) problems.push({ code: "DATE_INVALID", text: input.date, field: "date" });
  return {
    draft: {
      company: input.company,
      type: input.type,
      book: input.book || null,
      date: date ?? "",
      ...(input.period ? { period: input.period } : {}),
      ...(input.currency ? { currency: input.currency.toUpperCase() } : {}),
      description: input.description,
      reference: input.reference,
      lines,
    },
    lineNumbers,
    problems,
  };
}

/**
 * The problems of reading and of checking as one list, at the lines as written, each thing said once:
 * an amount that can't be read is not also missing, and then nothing is said of the balance.
 */
export function mergeProblems(reading: JournalReading, checked: readonly Found[]): Found[] {
  const unreadable = reading.problems.some((p) => p.line !== undefined);
  const lineProblem = new Set(reading.problems.filter((p) => p.line !== undefined).map((p) => p.line));
  const rest = checked
    .map((p) => (p.line === undefined ? p : { ...p, line: reading.lineNumbers[p.line - 1] ?? p.line }))
    .filter((p) => !(p.code === "UNBALANCED" && unreadable))
    .filter((p) => !(p.code === "NO_AMOUNT" && lineProblem.has(p.line)))
    .filter((p) => !(p.code === "DATE_INVALID" && reading.problems.some((q) => q.field === "date")));
  return [...reading.problems, ...rest].sort((a, b) => (a.line ?? 0) - (b.line ?? 0));
}

function amountProblem(fault: "not-a-number" | "too-many-decimals" | "too-large", typed: string, currency: string): Found {
  if (fault === "too-large") return { code: "AMOUNT_TOO_LARGE", text: typed };
  if (fault === "not-a-number") return { code: "AMOUNT_NOT_NUMBER", text: typed };
  const decimals = exponentOf(currency);
  return { code: "AMOUNT_DECIMALS", text: typed, currency, decimals };
}
