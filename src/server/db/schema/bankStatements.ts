import { sql } from "drizzle-orm";
import {
  bigint,
  boolean,
  char,
  check,
  date,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { LINE_STATES, MOVEMENT_SIDES } from "../../../core/banks/lineState";
import type { RuleOutcome } from "../../../core/banks/matching/rules";
import type { KeptCandidate, LineOutcome } from "../../../core/banks/lineState";
import type { KeptBetween } from "../../../core/banks/reconciliation";
import type { BatchPlace, StatementDetail } from "../../../core/banks/statements";
import type { TableReading } from "../../../core/banks/statements/table";
import { bankAccount } from "./banks";
import { document } from "./documents";
import { oneOf } from "./oneOf";
import { company } from "./organisation";

/** A movement within a line as it is kept: its amount as text. */
type KeptDetail = Omit<StatementDetail, "amount"> & { amount: string | null };
const units = () => bigint({ mode: "bigint" });

/** A kind of bank movement: by which of the bank's codes it is known, and where it is posted. */
export const movementKind = pgTable(
  "movement_kind",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    code: text().notNull().unique(),
    name: text().notNull(),
    /** Kinds of one group are summed together. */
    group: text().notNull().default(""),
    side: text({ enum: MOVEMENT_SIDES }).notNull(),
    /** Codes of ISO 20022, of SWIFT or of the bank, each as the beginning of a line's code. */
    codes: text().array().notNull().default([]),
    /** Words of a text that mean it, in capitals. */
    words: text().array().notNull().default([]),
    /** Where it is posted; empty where it meets open items. */
    account: text().notNull().default(""),
    dimensions: jsonb().$type<Record<string, string>>().notNull().default({}),
    /** The tax that its amounts have in them; empty where there is none. */
    taxCode: text().notNull().default(""),
    version: integer().notNull().default(1),
  },
  (t) => [oneOf("movement_kind_side", t.side, MOVEMENT_SIDES)],
);

/** A rule of a company's own for the lines of its banks: the first in order that means one decides. */
export const lineRule = pgTable(
  "line_rule",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    name: text().notNull(),
    place: integer().notNull(),
    /** Null for all bank accounts of the company. */
    bankAccountId: integer().references(() => bankAccount.id),
    text: text().notNull().default(""),
    party: text().notNull().default(""),
    code: text().notNull().default(""),
    side: text({ enum: MOVEMENT_SIDES }).notNull(),
    from: text().notNull().default(""),
    to: text().notNull().default(""),
    outcome: jsonb().$type<RuleOutcome>().notNull(),
    /** Else it is only tried. */
    inUse: boolean().notNull(),
    version: integer().notNull().default(1),
  },
  (t) => [
    oneOf("line_rule_side", t.side, MOVEMENT_SIDES),
    unique("line_rule_name").on(t.companyId, t.name),
  ],
);

/** How tables of movements are read that a bank gives for an account, by their headings. */
export const statementReading = pgTable(
  "statement_reading",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    /** The headings as one text. */
    headings: text().notNull(),
    reading: jsonb().$type<TableReading>().notNull(),
    savedBy: integer().notNull(),
    savedAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [unique("statement_reading_once").on(t.bankAccountId, t.headings)],
);

/** A file of statements as it came: what was read of it can be held against it at any time. */
export const statementFile = pgTable(
  "statement_file",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    name: text().notNull(),
    format: text().notNull(),
    /** SHA-256 of its bytes, in hexadecimal figures: the same file does not come in twice. */
    digest: text().notNull(),
    /** base64 */
    content: text().notNull(),
    /** The companies whose accounts it is of. */
    companyIds: integer().array().notNull().default([]),
    madeBy: integer().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
    /** Taken back, with its statements, while nothing of it was posted: by whom, and why. */
    takenBackBy: integer(),
    takenBackAt: timestamp({ withTimezone: true }),
    reason: text().notNull().default(""),
  },
  (t) => [
    uniqueIndex("statement_file_digest_standing")
      .on(t.digest)
      .where(sql`taken_back_at is null`),
  ],
);

/** A file that a bank has put into the folder of the server: what came of it. Only ever added to. */
export const folderFile = pgTable("folder_file", {
  id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
  name: text().notNull(),
  takenBy: integer().notNull(),
  at: timestamp({ withTimezone: true }).notNull(),
  /** Null where it was refused. */
  fileId: bigint({ mode: "number" }).references(() => statementFile.id),
  /** Why it was refused. */
  says: text().notNull(),
});

/**
 * A movement in its parts that a bank has told of beside its statements, until the line of a
 * statement comes that it tells of.
 */
export const bankNotice = pgTable(
  "bank_notice",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    fileId: bigint({ mode: "number" })
      .notNull()
      .references(() => statementFile.id),
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    booked: date().notNull(),
    amount: units().notNull(),
    bankReference: text().notNull(),
    text: text().notNull(),
    details: jsonb().$type<KeptDetail[]>().notNull(),
    /** The first part of the line that it opened; null while it waits for one. */
    lineId: bigint({ mode: "number" }),
  },
  (t) => [
    index("bank_notice_waiting")
      .on(t.bankAccountId, t.amount)
      .where(sql`line_id is null`),
    index().on(t.fileId),
  ],
);

/** An account statement of a bank. */
export const bankStatement = pgTable(
  "bank_statement",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    /** The file that it came in; null where somebody has copied it from paper. */
    fileId: bigint({ mode: "number" }).references(() => statementFile.id),
    madeBy: integer().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    number: text().notNull(),
    currency: char({ length: 3 }).notNull(),
    openingDate: date().notNull(),
    opening: units().notNull(),
    closingDate: date().notNull(),
    closing: units().notNull(),
    /** What it does not join to: a gap or an overlap with the one before; empty where it does. */
    doubt: text().notNull().default(""),
  },
  (t) => [
    unique("bank_statement_once").on(t.bankAccountId, t.number, t.closingDate),
    index().on(t.bankAccountId, t.closingDate),
    index().on(t.fileId),
  ],
);

/** What a bank says of a movement. */
const movement = () => ({
  booked: date().notNull(),
  valued: date().notNull(),
  /** Positive is money in. */
  amount: units().notNull(),
  takesBack: boolean().notNull(),
  code: text().notNull(),
  partyName: text().notNull(),
  partyAccount: text().notNull(),
  partyBic: text().notNull(),
  endToEnd: text().notNull(),
  creditorReference: text().notNull(),
  mandate: text().notNull(),
  cheque: text().notNull(),
  bankReference: text().notNull(),
  text: text().notNull(),
  returnReason: text().notNull(),
  /** Movements within it, amounts as text. */
  details: jsonb().$type<KeptDetail[]>().notNull().default([]),
  /** Of which line of the bank it is a part; null where it is the line itself. */
  batch: jsonb().$type<BatchPlace>(),
  /** Where it stands in its file. */
  fromLine: integer().notNull(),
  toLine: integer().notNull(),
});

/** A line of a statement, what it may be, what was decided, and what was posted. */
export const statementLine = pgTable(
  "statement_line",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    statementId: bigint({ mode: "number" })
      .notNull()
      .references(() => bankStatement.id),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    position: integer().notNull(),
    ...movement(),
    state: text({ enum: LINE_STATES }).notNull().default("unexplained"),
    candidates: jsonb().$type<KeptCandidate[]>().notNull().default([]),
    /** Why what fits best is not certain. */
    but: text().notNull().default(""),
    /** What it will be posted as, or was: null where nothing is decided. */
    outcome: jsonb().$type<LineOutcome>(),
    decidedBy: integer(),
    decidedAt: timestamp({ withTimezone: true }),
    runId: bigint({ mode: "number" }),
    journalId: bigint({ mode: "number" }),
    version: integer().notNull().default(1),
  },
  (t) => [
    unique("statement_line_once").on(t.statementId, t.position),
    index("statement_line_open")
      .on(t.companyId, t.bankAccountId, t.booked)
      .where(sql`state <> 'posted'`),
    index().on(t.bankAccountId, t.booked),
    index().on(t.runId),
    index().on(t.journalId),
    index("statement_line_party")
      .on(t.partyAccount)
      .where(sql`party_account <> ''`),
    oneOf("statement_line_state", t.state, LINE_STATES),
    check("statement_line_posted", sql`(${t.state} = 'posted') = (${t.journalId} is not null)`),
  ],
);

/**
 * The journals that a line was ever posted as, or ticked with: kept by the database itself whenever a
 * line gets one, so that what a line was at an earlier moment is known after it was reversed.
 */
export const lineJournal = pgTable(
  "line_journal",
  {
    lineId: bigint({ mode: "number" }).notNull(),
    journalId: bigint({ mode: "number" }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.lineId, t.journalId] }), index().on(t.journalId)],
);

/**
 * A bank account that was reconciled on a day, as it was then: nothing of it up to that day changes
 * while it stands.
 */
export const reconciliation = pgTable(
  "reconciliation",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    date: date().notNull(),
    /** The statement whose closing balance it stands on. */
    statementId: bigint({ mode: "number" })
      .notNull()
      .references(() => bankStatement.id),
    bank: units().notNull(),
    ledger: units().notNull(),
    /** What lay between the two, as it was shown. */
    between: jsonb().$type<KeptBetween>().notNull(),
    /** The last journal of the company's chain at that moment. */
    headSeq: bigint({ mode: "bigint" }).notNull(),
    headHash: text().notNull(),
    /** Under which it stands in the register, with the papers that hang on it. */
    documentId: bigint({ mode: "number" })
      .notNull()
      .unique()
      .references(() => document.id),
    /** The paper that was made of it, base64, and its SHA-256 in hexadecimal figures. */
    pdf: text().notNull(),
    digest: text().notNull(),
    closedBy: integer().notNull(),
    closedAt: timestamp({ withTimezone: true }).notNull(),
    reopenedBy: integer(),
    reopenedAt: timestamp({ withTimezone: true }),
    reason: text().notNull().default(""),
  },
  (t) => [
    uniqueIndex("reconciliation_standing")
      .on(t.bankAccountId, t.date)
      .where(sql`reopened_at is null`),
    index().on(t.statementId),
    index().on(t.companyId),
  ],
);

/** A reconciliation that is prepared: its papers are gathered before it is closed. */
export const reconciliationDraft = pgTable(
  "reconciliation_draft",
  {
    documentId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id, { onDelete: "cascade" }),
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    date: date().notNull(),
  },
  (t) => [unique().on(t.bankAccountId, t.date)],
);

/** A large file of statements on its way in: a job stores its lines, and then takes it in whole. */
export const comingFile = pgTable("coming_file", {
  id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
  name: text().notNull(),
  digest: text().notNull().unique(),
  /** base64 */
  content: text().notNull(),
  /** Of a table: the account that it is of, how it is read, and what the account held before. */
  bank: text().notNull(),
  reading: jsonb().$type<TableReading>(),
  opening: text().notNull(),
  byFolder: boolean().notNull(),
  madeBy: integer().notNull(),
  madeAt: timestamp({ withTimezone: true }).notNull(),
});

/**
 * Lines of it that are stored already; they are nowhere else before the file is taken in. No index and
 * no reference: they are written once, moved once, and nobody looks for one.
 */
export const comingLine = pgTable("coming_line", {
  fileId: bigint({ mode: "number" }).notNull(),
  /** Of which of its statements, counted from nil: it has no identity yet. */
  statementId: bigint({ mode: "number" }).notNull(),
  companyId: integer().notNull(),
  bankAccountId: integer().notNull(),
  position: integer().notNull(),
  ...movement(),
});
