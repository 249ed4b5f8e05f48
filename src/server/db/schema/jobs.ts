import { sql } from "drizzle-orm";
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  text,
  timestamp,
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { JOB_KINDS, JOB_STATES } from "../../../core/jobs";
import { oneOf } from "./oneOf";
import { company } from "./organisation";

const instant = () => timestamp({ withTimezone: true, mode: "string" });

/** Long work: who asked for it, how far it is, and what came of it. */
export const job = pgTable(
  "job",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    kind: text().notNull(),
    companyId: integer().references(() => company.id),
    personId: integer().notNull(),
    title: text().notNull(),
    /** The page that shows what it works on. */
    page: text().notNull(),
    params: jsonb().notNull(),
    /** Of those that say the same here, one works at a time. */
    alone: text().notNull(),
    state: text().notNull().default("waiting"),
    done: integer().notNull().default(0),
    total: integer(),
    /** What came of it, where it did not end well. */
    note: text().notNull().default(""),
    stopAsked: boolean().notNull().default(false),
    /** How often it was begun: anew after the machine stopped. */
    attempts: integer().notNull().default(0),
    /** The thread that works on it, and when that was last heard of. */
    worker: text(),
    heardAt: instant(),
    askedAt: instant().notNull().defaultNow(),
    startedAt: instant(),
    endedAt: instant(),
  },
  (t) => [
    uniqueIndex("job_alone")
      .on(t.alone)
      .where(sql`state = 'running'`),
    index("job_state").on(t.state, t.id),
    oneOf("job_kind", t.kind, Object.keys(JOB_KINDS)),
    oneOf("job_state", t.state, JOB_STATES),
  ],
);
