import { sql } from "drizzle-orm";
import {
  bigint,
  boolean,
  char,
  check,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  unique,
} from "drizzle-orm/pg-core";
import { AREAS } from "../../../core/access";
import { oneOf } from "./oneOf";

export const company = pgTable("company", {
  id: integer().primaryKey().generatedByDefaultAsIdentity(),
  code: text().notNull().unique(),
  name: text().notNull(),
  currency: char({ length: 3 }).notNull(),
  country: char({ length: 2 }).notNull(),
  street: text().notNull().default(""),
  postcode: text().notNull().default(""),
  city: text().notNull().default(""),
  taxNumber: text().notNull().default(""),
  /** Legal entity identifier (ISO 17442). */
  lei: text().notNull().default(""),
  /** By which it is known as a creditor of direct debits. */
  creditorId: text().notNull().default(""),
});

/** Row 0 stands for what is common to all books. */
export const book = pgTable("book", {
  id: smallint().primaryKey(),
  code: text().notNull().unique(),
  name: text().notNull(),
  main: boolean().notNull().default(false),
  ended: boolean().notNull().default(false),
});

export const fiscalYear = pgTable(
  "fiscal_year",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    name: text().notNull(),
    description: text().notNull().default(""),
    startDate: date().notNull(),
    endDate: date().notNull(),
  },
  (t) => [
    unique().on(t.companyId, t.name),
    unique().on(t.companyId, t.startDate),
    check("year_dates", sql`${t.endDate} >= ${t.startDate}`),
  ],
);

export const period = pgTable(
  "period",
  {
    yearId: integer()
      .notNull()
      .references(() => fiscalYear.id),
    no: smallint().notNull(),
    name: text().notNull(),
    startDate: date().notNull(),
    endDate: date().notNull(),
    adjustment: boolean().notNull().default(false),
  },
  (t) => [primaryKey({ columns: [t.yearId, t.no] }), check("period_no", sql`${t.no} >= 1`)],
);

/** State of a period in one book and area. No row means: not yet opened. */
export const periodState = pgTable(
  "period_state",
  {
    yearId: integer().notNull(),
    no: smallint().notNull(),
    bookId: smallint()
      .notNull()
      .references(() => book.id),
    area: text({ enum: AREAS }).notNull(),
    state: text().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.yearId, t.no, t.bookId, t.area] }),
    foreignKey({ columns: [t.yearId, t.no], foreignColumns: [period.yearId, period.no] }),
    oneOf("period_state_area", t.area, AREAS),
    check("period_state_known", sql`${t.state} in ('not-yet', 'open', 'closing', 'closed')`),
  ],
);

/**
 * Every change of a period's state, with the head of the company's chain at that moment: its
 * anchor.
 */
export const closeRecord = pgTable(
  "close_record",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    yearId: integer().notNull(),
    no: smallint().notNull(),
    bookId: smallint().notNull(),
    area: text().notNull(),
    fromState: text().notNull(),
    toState: text().notNull(),
    reason: text().notNull().default(""),
    personId: integer(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
    chainSeq: bigint({ mode: "bigint" }).notNull(),
    chainHash: text().notNull(),
  },
  (t) => [index().on(t.companyId, t.yearId, t.no)],
);

export const setting = pgTable("setting", { key: text().primaryKey(), value: jsonb().notNull() });

/** Counts changes of master data, so that a copy in memory knows when it is old. */
export const revision = pgTable("revision", {
  id: smallint().primaryKey(),
  n: bigint({ mode: "bigint" }).notNull(),
});
