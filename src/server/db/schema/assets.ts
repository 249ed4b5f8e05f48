import { sql } from "drizzle-orm";
import {
  bigint,
  boolean,
  check,
  date,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
} from "drizzle-orm/pg-core";
import type { AssetAccounts, DepreciationRules, IntakeContent } from "../../../core/assets";
import { CHANGE_KINDS, ENTRY_PARTS, MOVEMENTS } from "../../../core/assets/entries";
import { document } from "./documents";
import { oneOf } from "./oneOf";
import { book, company } from "./organisation";

const units = () => bigint({ mode: "bigint" });
const documentId = () => bigint({ mode: "number" }).references(() => document.id);

/** What assets of a kind have in common: accounts, and how each book depreciates them. */
export const assetClass = pgTable("asset_class", {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  code: text().notNull().unique(),
  name: text().notNull(),
  parent: text().notNull().default(""),
  accounts: jsonb().$type<AssetAccounts>().notNull(),
  rules: jsonb().$type<DepreciationRules>().notNull(),
  /** A cost up to this, in units of the company's currency, is expensed at once; none where empty. */
  threshold: text().notNull().default(""),
  /** Facts without which nothing is taken in. */
  needs: text().array().notNull().default([]),
  blocked: boolean().notNull().default(false),
});

/** An asset; number, company, description and state stand in the register. */
export const asset = pgTable(
  "asset",
  {
    documentId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    classId: integer()
      .notNull()
      .references(() => assetClass.id),
    /** The asset that it is a part of. */
    mainId: documentId(),
    inService: date().notNull(),
    /** As its class had them when it was taken in. */
    rules: jsonb().$type<DepreciationRules>().notNull(),
    /** In thousandths. */
    quantity: units()
      .notNull()
      .default(sql`1000`),
    unit: text().notNull().default(""),
    serial: text().notNull().default(""),
    warrantyTo: date(),
    insurance: text().notNull().default(""),
    note: text().notNull().default(""),
    version: integer().notNull().default(1),
    updatedBy: integer().notNull(),
    updatedAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [index().on(t.companyId, t.classId), index().on(t.mainId)],
);

/** Who uses an asset where, from a day on until the next. */
export const assetPlace = pgTable(
  "asset_place",
  {
    assetId: documentId().notNull(),
    from: date().notNull(),
    dimensions: jsonb().$type<Record<string, string>>().notNull(),
    place: text().notNull().default(""),
    person: text().notNull().default(""),
    madeBy: integer().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.assetId, t.from] })],
);

/**
 * What has moved the accounts of assets and of their intake, each line by its asset or waiting for
 * one; append-only. Debit positive, in functional minor units. A run writes very many at once: they
 * are made by joins of what is there, and only the asset is asked for by a key of its own.
 */
export const assetEntry = pgTable(
  "asset_entry",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer().notNull(),
    /** The one book it belongs to, or 0 for all. */
    bookId: smallint().notNull(),
    accountId: integer().notNull(),
    assetId: documentId(),
    /** Of what waits: the line of the intake. */
    intakeId: bigint({ mode: "number" }),
    part: text().notNull(),
    movement: text().notNull(),
    date: date().notNull(),
    /** Of cost: the day from which on it is depreciated. */
    countsFrom: date(),
    amount: units().notNull(),
    journalId: bigint({ mode: "number" }),
    lineNo: integer(),
    runId: bigint({ mode: "number" }),
    madeBy: integer().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [
    index().on(t.companyId, t.accountId, t.date),
    index()
      .on(t.assetId)
      .where(sql`asset_id is not null`),
    index()
      .on(t.intakeId)
      .where(sql`intake_id is not null`),
    index()
      .on(t.journalId)
      .where(sql`journal_id is not null`),
    index()
      .on(t.runId)
      .where(sql`run_id is not null`),
    oneOf("asset_entry_part", t.part, ENTRY_PARTS),
    oneOf("asset_entry_movement", t.movement, MOVEMENTS),
    check(
      "asset_entry_waits",
      sql`(${t.part} = 'waiting') = (${t.assetId} is null)
        and (${t.assetId} is not null or ${t.intakeId} is not null)`,
    ),
  ],
);

/**
 * A posted line that waits for its asset, or a part of one that was split: where it comes from, and
 * what people have written about what is to become of it.
 */
export const assetIntake = pgTable(
  "asset_intake",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    journalId: bigint({ mode: "number" }).notNull(),
    lineNo: integer().notNull(),
    /** What of the line it is: all parts of a line come to its amount. */
    amount: units().notNull(),
    content: jsonb().$type<IntakeContent>().notNull(),
    /** The line into whose asset this one goes. */
    mergedInto: bigint({ mode: "number" }),
    /** Why it is set aside. */
    aside: text().notNull().default(""),
    version: integer().notNull().default(1),
  },
  (t) => [
    index().on(t.journalId, t.lineNo),
    index().on(t.companyId),
    check("asset_intake_apart", sql`${t.mergedInto} <> ${t.id}`),
  ],
);

/** What changes how an asset is depreciated, from a day on, in all books (0) or one; append-only. */
export const assetChange = pgTable(
  "asset_change",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedAlwaysAsIdentity(),
    assetId: documentId().notNull(),
    bookId: smallint()
      .notNull()
      .references(() => book.id),
    kind: text().notNull(),
    on: date().notNull(),
    content: jsonb().notNull(),
    reason: text().notNull().default(""),
    /** The change that this one takes back. */
    undoes: bigint({ mode: "number" }).unique(),
    runId: documentId(),
    madeBy: integer().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [index().on(t.assetId), oneOf("asset_change_kind", t.kind, CHANGE_KINDS)],
);
