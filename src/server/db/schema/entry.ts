import {
  bigint,
  char,
  check,
  index,
  integer,
  jsonb,
  pgTable,
  text,
  timestamp,
  unique,
} from "drizzle-orm/pg-core";
import { ROLES } from "../../../core/access";
import { oneOf } from "./oneOf";
import { sql } from "drizzle-orm";
import type { Rhythm } from "@/core/shared";
import { document } from "./documents";
import { company } from "./organisation";

/** A journal while it is written: as typed. `version` tells a stale copy. */
export const journalDraft = pgTable("journal_draft", {
  documentId: bigint({ mode: "number" })
    .primaryKey()
    .references(() => document.id, { onDelete: "cascade" }),
  content: jsonb().notNull(),
  version: integer().notNull().default(1),
  updatedBy: integer().notNull(),
  updatedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  batchId: bigint({ mode: "number" }).references(() => document.id),
});

/** Journals that are posted together, with what their papers add up to. */
export const batch = pgTable("batch", {
  documentId: bigint({ mode: "number" })
    .primaryKey()
    .references(() => document.id, { onDelete: "cascade" }),
  /** What is said of it: period, description, and what its papers add up to. */
  content: jsonb().notNull(),
  /** What was entered when it was posted: by currency of entry, in its minor units as text. */
  entered: jsonb().$type<{ currency: string; amount: string }[]>().notNull().default([]),
  waivedBy: integer(),
  waivedReason: text().notNull().default(""),
  version: integer().notNull().default(1),
  updatedBy: integer().notNull(),
  updatedAt: timestamp({ withTimezone: true }).notNull(),
});

/** A saved coding, typed as @name: of one person, or of everybody in the company. */
export const shortcut = pgTable(
  "shortcut",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    personId: integer(),
    name: text().notNull(),
    account: text().notNull(),
    dimensions: jsonb().$type<Record<string, string>>().notNull(),
    description: text().notNull().default(""),
  },
  (t) => [unique().on(t.companyId, t.personId, t.name).nullsNotDistinct()],
);

/** A journal to start from. */
export const journalTemplate = pgTable(
  "journal_template",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    name: text().notNull(),
    content: jsonb().notNull(),
    savedBy: integer().notNull(),
    savedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [unique().on(t.companyId, t.name)],
);

/** When a journal needs a second person. Empty fields mean any. */
export const approvalRule = pgTable(
  "approval_rule",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    sort: integer().notNull(),
    type: text(),
    companyId: integer().references(() => company.id),
    accountFrom: text(),
    accountTo: text(),
    /** Minor units of the currency; a journal of at least this much. */
    minimum: bigint({ mode: "bigint" }).notNull(),
    currency: char({ length: 3 }).notNull(),
    role: text({ enum: ROLES }).notNull(),
  },
  (t) => [oneOf("approval_rule_role", t.role, ROLES)],
);

/** One asking for approval, and how it ended. */
export const approval = pgTable(
  "approval",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    documentId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id, { onDelete: "cascade" }),
    role: text({ enum: ROLES }).notNull(),
    why: text().notNull(),
    /** What was asked about: the version of the draft. */
    version: integer().notNull(),
    askedBy: integer().notNull(),
    askedAt: timestamp({ withTimezone: true }).notNull(),
    state: text().notNull().default("waiting"),
    decidedBy: integer(),
    decidedAt: timestamp({ withTimezone: true }),
    reason: text().notNull().default(""),
  },
  (t) => [
    index().on(t.documentId),
    index().on(t.state),
    oneOf("approval_role", t.role, ROLES),
    check("approval_state", sql`${t.state} in ('waiting', 'approved', 'returned', 'withdrawn')`),
  ],
);

/**
 * A document that comes again: as written, with rules in the places of what changes, and its rhythm.
 * Kind, name and status stand in the register.
 */
export const recurringDocument = pgTable("recurring_document", {
  documentId: bigint({ mode: "number" })
    .primaryKey()
    .references(() => document.id, { onDelete: "cascade" }),
  content: jsonb().notNull(),
  rhythm: jsonb().$type<Rhythm>().notNull(),
  /** Dates that are passed over, with the reason. */
  skipped: jsonb().$type<Record<string, string>>().notNull().default({}),
  version: integer().notNull().default(1),
  updatedBy: integer().notNull(),
  updatedAt: timestamp({ withTimezone: true }).notNull(),
});

/** A table from outside that was taken in: who, when, from which file, and how it was kept. */
export const journalLoad = pgTable(
  "journal_load",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    hash: text().notNull(),
    companyId: integer().notNull(),
    personId: integer().notNull(),
    at: timestamp({ withTimezone: true }).notNull(),
    journals: integer().notNull(),
    mode: text().notNull(),
    /** The file, as it was called. */
    source: text().notNull().default(""),
  },
  (t) => [index().on(t.hash)],
);

/**
 * A journal that came in by a load, with a hash of what it says, so that the same journal is
 * noticed when any later load brings it again. A draft that is deleted was never loaded.
 */
export const loadedJournal = pgTable(
  "loaded_journal",
  {
    documentId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id, { onDelete: "cascade" }),
    loadId: integer()
      .notNull()
      .references(() => journalLoad.id),
    key: text().notNull(),
    hash: text().notNull(),
  },
  (t) => [index().on(t.hash), index().on(t.loadId)],
);
