import { char, integer, jsonb, pgTable, primaryKey, text, timestamp } from "drizzle-orm/pg-core";

/**
 * A seal over all evidence that was final when it was made: its digest carries the one before, and
 * is signed and kept outside the database.
 */
export const seal = pgTable("seal", {
  no: integer().primaryKey(),
  at: timestamp({ withTimezone: true }).notNull(),
  previous: text().notNull(),
  digest: text().notNull(),
  rows: integer().notNull(),
  heads: jsonb().notNull(),
});

/** The hash of a row of evidence when it was sealed. */
export const sealedRow = pgTable(
  "sealed_row",
  {
    table: text().notNull(),
    key: text().notNull(),
    sealNo: integer().notNull(),
    hash: char({ length: 64 }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.table, t.key] })],
);

/** The columns that a seal covers of a table. */
export const sealColumns = pgTable(
  "seal_columns",
  {
    sealNo: integer().notNull(),
    table: text().notNull(),
    columns: text().array().notNull(),
  },
  (t) => [primaryKey({ columns: [t.sealNo, t.table] })],
);
