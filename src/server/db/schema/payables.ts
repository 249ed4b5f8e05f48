import {
  bigint,
  boolean,
  char,
  date,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from "drizzle-orm/pg-core";
import { TAX_CATEGORIES, TAX_DIRECTIONS, TAX_KINDS } from "../../../core/taxes";
import { document } from "./documents";
import { oneOf } from "./oneOf";
import { partner } from "./partners";
import { company } from "./organisation";

const units = () => bigint({ mode: "bigint" });

/** How a tax is computed, posted and declared. Its rates have dates. */
export const taxCode = pgTable(
  "tax_code",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    code: text().notNull().unique(),
    name: text().notNull(),
    /** On what is bought, or on what is sold. */
    direction: text().notNull().default("purchase"),
    /** As core says of it; the accounts too. */
    kind: text({ enum: TAX_KINDS }).notNull(),
    account: text().notNull().default(""),
    owedAccount: text().notNull().default(""),
    /** Per cent that can be recovered. */
    recoverable: numeric().notNull().default("100"),
    returnLine: text().notNull().default(""),
    category: text({ enum: ["", ...TAX_CATEGORIES] })
      .notNull()
      .default(""),
    reason: text().notNull().default(""),
    blocked: boolean().notNull().default(false),
  },
  (t) => [
    oneOf("tax_code_category", t.category, ["", ...TAX_CATEGORIES]),
    oneOf("tax_code_direction", t.direction, TAX_DIRECTIONS),
    oneOf("tax_code_kind", t.kind, TAX_KINDS),
  ],
);

export const taxRate = pgTable(
  "tax_rate",
  {
    taxCodeId: integer()
      .notNull()
      .references(() => taxCode.id),
    from: date().notNull(),
    percent: numeric().notNull(),
  },
  (t) => [primaryKey({ columns: [t.taxCodeId, t.from] })],
);

/**
 * A supplier's invoice or credit note, as typed. Number, date, amount and status stand in the
 * register; what was posted, in its journal.
 */
export const invoice = pgTable(
  "invoice",
  {
    documentId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id, { onDelete: "cascade" }),
    partnerId: integer().references(() => partner.id),
    /** The supplier's own number, in capitals without marks: what a second one is noticed by. */
    numberKey: text().notNull().default(""),
    content: jsonb().notNull(),
    version: integer().notNull().default(1),
    updatedBy: integer().notNull(),
    updatedAt: timestamp({ withTimezone: true }).notNull(),
    journalId: bigint({ mode: "number" }),
    /**
     * What it came to when it was posted, by line, tax and instalment: later changes of tax codes
     * and terms don't touch it.
     */
    figures: jsonb(),
    /** Why it is held, in sentences, and who has let which of them pass. */
    holds: jsonb().$type<string[]>().notNull().default([]),
    /** What the supplier's file contradicts itself in: it holds the invoice until somebody decides. */
    paperHolds: jsonb().$type<string[]>().notNull().default([]),
    released: jsonb().$type<{ by: number; reason: string; holds: string[] } | null>(),
  },
  (t) => [index().on(t.partnerId, t.numberKey)],
);

/**
 * What was computed for a tax of a document: the base, the rate and its date, and how much can be
 * recovered.
 */
export const taxRecord = pgTable(
  "tax_record",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer().notNull(),
    documentId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id),
    journalId: bigint({ mode: "number" }).notNull(),
    seq: units().notNull(),
    direction: text().notNull().default("purchase"),
    taxCode: text().notNull(),
    percent: numeric().notNull(),
    rateFrom: date().notNull(),
    taxDate: date().notNull(),
    /**
     * The day of the tax period in which it is reported: the tax date, or a day of the first period
     * that still takes it. Set by the database where nothing was chosen.
     */
    reportedOn: date().notNull(),
    returnLine: text().notNull(),
    /**
     * Where the recoverable part was booked, and where what is owed or withheld was; empty where
     * nothing was.
     */
    account: text().notNull().default(""),
    owedAccount: text().notNull().default(""),
    currency: char({ length: 3 }).notNull(),
    base: units().notNull(),
    tax: units().notNull(),
    recoverable: units().notNull(),
    functionalBase: units().notNull(),
    functionalTax: units().notNull(),
  },
  (t) => [
    index().on(t.companyId, t.reportedOn),
    index().on(t.documentId),
    index().on(t.journalId),
    oneOf("tax_record_direction", t.direction, TAX_DIRECTIONS),
  ],
);

/** A stretch of periods whose taxes were declared: no record is added to it any more. */
export const taxDeclaration = pgTable(
  "tax_declaration",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    startDate: date().notNull(),
    endDate: date().notNull(),
    reference: text().notNull().default(""),
    /** What was declared, by return line, code and rate, in functional currency. */
    figures: jsonb().notNull(),
    declaredBy: integer().notNull(),
    declaredAt: timestamp({ withTimezone: true }).notNull(),
    withdrawnBy: integer(),
    withdrawnAt: timestamp({ withTimezone: true }),
    reason: text().notNull().default(""),
  },
  (t) => [index().on(t.companyId, t.startDate)],
);
