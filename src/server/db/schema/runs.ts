import { sql } from "drizzle-orm";
import {
  bigint,
  boolean,
  date,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { ITEM_STATES, KINDS_OF_RUN } from "../../../core/runs";
import { document } from "./documents";
import { oneOf } from "./oneOf";

const KINDS = Object.keys(KINDS_OF_RUN);

/**
 * A run: parameters, the stored proposal, what was posted, and its reversal. Its number and status
 * stand in the register.
 */
export const run = pgTable(
  "run",
  {
    id: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id),
    kind: text().notNull(),
    companyId: integer().notNull(),
    params: jsonb().notNull(),
    /** What a person has changed in the preview: items dropped, amounts given. */
    overrides: jsonb().notNull().default({ dropped: [], amounts: {} }),
    /** Warnings, what stands against it, figures: what is said of the proposal as a whole. */
    head: jsonb().notNull().default({ warnings: [], figures: [] }),
    /** What the kind of run needs again when it is posted. */
    detail: jsonb(),
    /** What the proposal rests on; posting compares it with what is there then. */
    basis: text().notNull(),
    /** What the kind said of all that the items rest on; none where that moved while they were computed. */
    stand: text(),
    proposedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    postedBy: integer(),
    postedAt: timestamp({ withTimezone: true }),
    reversedBy: integer(),
    reversedAt: timestamp({ withTimezone: true }),
    reversalReason: text(),
  },
  (t) => [oneOf("run_kind", t.kind, KINDS)],
);

/** What a run would do, or did, item by item. */
export const runItem = pgTable(
  "run_item",
  {
    /** Not a reference: there are many of them, and each would be looked up. */
    runId: bigint({ mode: "number" }).notNull(),
    no: integer().notNull(),
    key: text().notNull(),
    label: text().notNull(),
    grouping: text().notNull(),
    /** In minor units of the company's functional currency. */
    amount: bigint({ mode: "bigint" }).notNull(),
    why: text().notNull(),
    state: text().notNull(),
    /** Why it is no part of the run. */
    leftOut: text(),
    /** Whether another run could want it; and under the name of which kind it is taken, if it is. */
    takes: boolean().notNull(),
    takenAs: text(),
    droppable: boolean().notNull(),
    /** Amounts that a person gives or may change. */
    asks: jsonb(),
    /** Places of its drafts. */
    drafts: jsonb(),
    /** How its figure came about, where the kind does not compute that when it is asked. */
    explanation: jsonb(),
    /** What its kind needs of it for the journals. */
    detail: jsonb(),
  },
  (t) => [
    primaryKey({ columns: [t.runId, t.no] }),
    /** What the open preview or the posted run of a kind has taken, no other takes. */
    uniqueIndex("run_item_taken")
      .on(t.key, t.takenAs)
      .where(sql`taken_as is not null`),
    oneOf("run_item_state", t.state, ITEM_STATES),
    oneOf("run_item_taken_as", t.takenAs, KINDS),
  ],
);

/** The journals that a run would post. */
export const runDraft = pgTable(
  "run_draft",
  {
    runId: bigint({ mode: "number" })
      .notNull()
      .references(() => run.id),
    no: integer().notNull(),
    content: jsonb().notNull(),
  },
  (t) => [primaryKey({ columns: [t.runId, t.no] })],
);

/** The parts in which a large run was computed: what each rests on. */
export const runPart = pgTable(
  "run_part",
  {
    runId: bigint({ mode: "number" })
      .notNull()
      .references(() => run.id),
    no: integer().notNull(),
    /** Behind which of the kind's things it begins, and the next one; none after the last. */
    after: text().notNull(),
    next: text(),
    firstItem: integer().notNull(),
    items: integer().notNull(),
    basis: text().notNull(),
    /** Whether its rows are written in the tables of its area, hidden until the run is posted. */
    written: boolean().notNull().default(false),
  },
  (t) => [primaryKey({ columns: [t.runId, t.no] })],
);

/**
 * A kind of run that comes by itself: how often, and whether it stops at its preview. It works as
 * whoever set it up.
 */
export const runSchedule = pgTable(
  "run_schedule",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    kind: text().notNull(),
    companyId: integer().notNull(),
    rhythm: jsonb().notNull(),
    /** preview or post */
    mode: text().notNull(),
    active: boolean().notNull().default(true),
    personId: integer().notNull(),
    /** The newest date of the rhythm that was taken, and what came of it. */
    lastDate: date(),
    lastOutcome: text().notNull().default(""),
    lastRunId: bigint({ mode: "number" }),
  },
  (t) => [unique().on(t.kind, t.companyId), oneOf("run_schedule_kind", t.kind, KINDS)],
);
