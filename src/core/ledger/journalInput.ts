import { array, boolean, object, string, type InferType } from "yup";
import { inverseRate, RATE_KINDS, readRate, type Rate } from "../rates";
import {
  DEFAULT_FORMAT,
  exponentOf,
  minor,
  readAmount,
  readDate,
  textRecord,
  type CalendarDate,
  type Found,
  type NumberFormat,
} from "../shared";
import { expandEntry, type EntryLine, type ExpandedDraft, type JournalEntry } from "./expandEntry";
import { checkDraft, MAX_LINES } from "./preparePostings";
import type { PostingContext } from "./postingContext";
import { readQuantity } from "./quantity";

/**
 * Any text: what is wrong with it is said by the check, at its place, so that nothing typed is lost
 * before.
 */
const text = () => string().default("");
/** A megabyte of text is no journal; refuse it before it is worked on. */
const bounded = () => text().max(100_000);

export const journalLineSchema = object({
  account: bounded(),
  dimensions: textRecord(),
  description: bounded(),
  debit: text().max(1000),
  credit: text().max(1000),
  /** The company of the line, where it is not the journal's. */
  company: text().max(20),
  /** The amount in the functional currency, where the rate is not to decide. */
  functional: text().max(1000),
  quantity: text().max(1000),
  partner: text().max(200),
  dueDate: text().max(100),
  note: bounded(),
  /** Cells of a table that were not understood in its marks, as they were written. */
  unread: textRecord().default(undefined),
  /** What the row of a table says otherwise than its journal, by field. */
  differs: textRecord().default(undefined),
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
  rateKind: string().oneOf(RATE_KINDS).default("spot"),
  /** A rate as typed: functional units for one of the currency, or the inverse. */
  rate: text().max(40),
  inverse: boolean().default(false),
  reverseOn: text().max(100),
  period: string().nullable().default(null).max(20),
  lines: array(journalLineSchema)
    .required()
    .max(MAX_LINES + 100),
});
export const journalRequestSchema = journalInputSchema.shape({ post: boolean().default(false) });

export type JournalInput = InferType<typeof journalInputSchema>;
export type JournalLineInput = InferType<typeof journalLineSchema>;

/**
 * A journal as written with everything that was left out: what a form starts from, and what an
 * older draft lacks.
 */
export const journalInput = (
  written: Partial<Omit<JournalInput, "lines">> & { lines?: readonly Partial<JournalLineInput>[] },
): JournalInput =>
  journalInputSchema.cast(
    { company: "", type: "", lines: [], ...written },
    { assert: false },
  ) as JournalInput;

export interface JournalReading {
  entry: JournalEntry;
  /**
   * For each line of the entry, its line in what was written (from 1): blank lines are passed over.
   */
  lineNumbers: number[];
  problems: Found[];
}

export const isBlankLine = (line: JournalLineInput): boolean =>
  [
    line.account,
    line.debit,
    line.credit,
    line.quantity,
    line.functional,
    ...Object.values(line.dimensions),
  ].every((t) => t.trim() === "");

/**
 * Turns what was written into an entry with minor units.
 * Units: amounts are decimals of the journal's currency (else of the company's functional one),
 * quantities have at most three decimals.
 * Lines whose amount can't be read carry zero and a problem, and the entry then says nothing about
 * its balance.
 */
export function readJournal(
  input: JournalInput,
  functional: (company: string) => string | undefined,
  today: CalendarDate,
  format: NumberFormat = DEFAULT_FORMAT,
): JournalReading {
  const problems: Found[] = [];
  const lines: EntryLine[] = [];
  const lineNumbers: number[] = [];
  const own = functional(input.company) ?? "EUR";
  const currency = input.currency?.trim().toUpperCase() || own;
  const amountAt = (written: string, unit: string, line: number, field: string) => {
    if (isUnread(input.lines[line - 1]!, field)) return minor(0n);
    const reading = readAmount(written, unit, format);
    if (!reading.ok) problems.push({ ...amountProblem(reading.fault, written, unit), line, field });
    return reading.ok ? reading.amount : minor(0n);
  };
  input.lines.forEach((line, i) => {
    if (isBlankLine(line)) return;
    const at = i + 1;
    const sides = (["debit", "credit"] as const).filter((side) => line[side].trim() !== "");
    if (sides.length === 2) problems.push({ code: "BOTH_SIDES", line: at, field: "credit" });
    const amount =
      sides.length === 1 ? amountAt(line[sides[0]!], currency, at, sides[0]!) : minor(0n);
    const company = line.company.trim().toUpperCase();
    problems.push(...problemsOfTable(line, input).map((p) => ({ ...p, line: at })));
    const quantity =
      line.quantity.trim() === "" || isUnread(line, "quantity")
        ? undefined
        : readQuantity(line.quantity, format);
    if (quantity === null)
      problems.push({ code: "QUANTITY_INVALID", text: line.quantity, line: at, field: "quantity" });
    const due =
      line.dueDate.trim() === "" || isUnread(line, "dueDate")
        ? undefined
        : readDate(line.dueDate, today);
    if (due === null)
      problems.push({ code: "DATE_INVALID", text: line.dueDate, line: at, field: "dueDate" });
    lines.push({
      account: line.account.trim(),
      dimensions: line.dimensions,
      description: line.description,
      side: sides[0] ?? "debit",
      amount,
      ...(company && company !== input.company ? { company } : {}),
      ...(line.functional.trim()
        ? {
            functional: amountAt(
              line.functional,
              functional(company || input.company) ?? own,
              at,
              "functional",
            ),
          }
        : {}),
      ...(quantity ? { quantity } : {}),
      ...(line.partner.trim() ? { partner: line.partner.trim() } : {}),
      ...(due ? { dueDate: due } : {}),
      ...(line.note.trim() ? { note: line.note } : {}),
    });
    lineNumbers.push(at);
  });
  const date = readDate(input.date, today);
  if (input.date.trim() === "")
    problems.push({ code: "REQUIRED", what: "The date", field: "date" });
  else if (!date && !input.lines.some((l) => l.unread?.date === input.date))
    problems.push({ code: "DATE_INVALID", text: input.date, field: "date" });
  const reverseOn = input.reverseOn.trim() === "" ? undefined : readDate(input.reverseOn, today);
  if (reverseOn === null)
    problems.push({ code: "DATE_INVALID", text: input.reverseOn, field: "reverseOn" });
  const typed = input.rate.trim() === "" ? undefined : readRate(input.rate);
  if (typed === null) problems.push({ code: "RATE_INVALID", text: input.rate, field: "rate" });
  return {
    entry: {
      company: input.company,
      type: input.type,
      book: input.book || null,
      date: date ?? "",
      ...(input.period ? { period: input.period } : {}),
      currency,
      rateKind: input.rateKind,
      ...(typed ? { rate: input.inverse ? inverseRate(typed) : typed } : {}),
      ...(reverseOn ? { reverseOn } : {}),
      description: input.description,
      reference: input.reference,
      lines,
    },
    lineNumbers,
    problems,
  };
}

/** A cell still holds what was not understood; a correction is read like anything typed. */
const isUnread = (line: JournalLineInput, field: string): boolean =>
  line.unread?.[field] !== undefined &&
  (field === "date" || line.unread[field] === line[field as "debit"]);

/** What the row of a table says that was not understood, or that its journal says otherwise. */
function problemsOfTable(line: JournalLineInput, input: JournalInput): Found[] {
  const unread = Object.entries(line.unread ?? {}).flatMap(([field, text]): Found[] => {
    if (!isUnread(line, field)) return [];
    const isDate = field === "date" || field === "dueDate";
    return [{ code: isDate ? "DATE_UNREAD" : "FIGURE_UNREAD", text, field }];
  });
  const differs = Object.entries(line.differs ?? {}).map(([field, text]): Found => {
    const said = input[field as "date"] ?? "";
    return { code: "ROW_DIFFERS", what: field, text, said, field };
  });
  const dated = unread.some((p) => p.field === "date");
  return [...unread, ...differs.filter((p) => !(dated && p.field === "date"))];
}

export interface EntryCheck {
  drafts: ExpandedDraft[];
  problems: Found[];
}

/**
 * Everything that stands against an entry, at the lines as written, and the drafts that it would
 * post.
 */
export function checkEntry(
  reading: JournalReading,
  context: PostingContext,
  rates: readonly Rate[],
): EntryCheck {
  const { drafts, problems } = expandEntry(reading.entry, { masters: context.masters, rates });
  // What is unbalanced only because a rate or a pair is missing is said by that.
  const follows = (p: Found): boolean =>
    problems.length > 0 &&
    (p.code === "NO_LINES" ||
      p.code === "UNBALANCED" ||
      p.code === "FOREIGN_UNBALANCED" ||
      p.code === "VALUE_UNBALANCED");
  const found = [
    ...problems,
    ...drafts.flatMap(({ draft, sources }) =>
      checkDraft(draft, context)
        .filter((p) => !follows(p))
        .map((p) => atEntry(p, sources)),
    ),
  ];
  return { drafts, problems: mergeProblems(reading, found) };
}

/**
 * A problem of an expanded draft at its line in the entry; on a line that was added, at the journal
 * as a whole.
 */
export function atEntry(problem: Found, sources: readonly (number | null)[]): Found {
  const { line, journal: _journal, ...rest } = problem;
  if (line === undefined) return rest;
  const source = sources[line - 1];
  return source === null || source === undefined ? rest : { ...rest, line: source + 1 };
}

/**
 * The problems of reading and of checking as one list, at the lines as written, each thing said
 * once:
 * an amount that can't be read is not also missing, and then nothing is said of the balance.
 */
export function mergeProblems(reading: JournalReading, checked: readonly Found[]): Found[] {
  const unreadable = reading.problems.some((p) => p.line !== undefined);
  const lineProblem = new Set(
    reading.problems.filter((p) => p.line !== undefined).map((p) => p.line),
  );
  const rest = checked
    .map((p) =>
      p.line === undefined ? p : { ...p, line: reading.lineNumbers[p.line - 1] ?? p.line },
    )
    .filter((p) => !(p.code === "UNBALANCED" && unreadable))
    .filter((p) => !(p.code === "NO_AMOUNT" && lineProblem.has(p.line)))
    .filter(
      (p) => !(p.code === "DATE_INVALID" && reading.problems.some((q) => q.field === "date")),
    );
  return [...reading.problems, ...rest].sort((a, b) => (a.line ?? 0) - (b.line ?? 0));
}

function amountProblem(
  fault: "not-a-number" | "too-many-decimals" | "too-large",
  typed: string,
  currency: string,
): Found {
  if (fault === "too-large") return { code: "AMOUNT_TOO_LARGE", text: typed };
  if (fault === "not-a-number") return { code: "AMOUNT_NOT_NUMBER", text: typed };
  const decimals = exponentOf(currency);
  return { code: "AMOUNT_DECIMALS", text: typed, currency, decimals };
}
