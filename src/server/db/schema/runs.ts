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
} from "drizzle-orm/pg-core";
import { RUN_KIND_NAMES } from "../../../core/runs";
import { document } from "./documents";
import { oneOf } from "./oneOf";

const RUN_KINDS = Object.keys(RUN_KIND_NAMES);

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
    proposal: jsonb().notNull(),
    /** What the proposal rests on; posting compares it with what is there then. */
    basis: text().notNull(),
    proposedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    postedBy: integer(),
    postedAt: timestamp({ withTimezone: true }),
    reversedBy: integer(),
    reversedAt: timestamp({ withTimezone: true }),
    reversalReason: text(),
  },
  (t) => [oneOf("run_kind", t.kind, RUN_KINDS)],
);

/** What the open preview or the posted run of a kind has taken. */
export const runReservation = pgTable(
  "run_reservation",
  {
    kind: text().notNull(),
    itemKey: text().notNull(),
    runId: bigint({ mode: "number" })
      .notNull()
      .references(() => run.id),
  },
  (t) => [
    primaryKey({ columns: [t.kind, t.itemKey] }),
    oneOf("run_reservation_kind", t.kind, RUN_KINDS),
  ],
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
  (t) => [unique().on(t.kind, t.companyId), oneOf("run_schedule_kind", t.kind, RUN_KINDS)],
);
