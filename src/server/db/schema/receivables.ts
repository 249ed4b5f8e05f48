import { bigint, index, integer, jsonb, pgTable, timestamp } from "drizzle-orm/pg-core";
import { document } from "./documents";
import { partner } from "./partners";

/**
 * An invoice or credit note to a customer, as typed. Number, date, amount and status stand in the
 * register; what was posted, in its journal.
 */
export const sale = pgTable(
  "sale",
  {
    documentId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id, { onDelete: "cascade" }),
    partnerId: integer().references(() => partner.id),
    content: jsonb().notNull(),
    version: integer().notNull().default(1),
    updatedBy: integer().notNull(),
    updatedAt: timestamp({ withTimezone: true }).notNull(),
    journalId: bigint({ mode: "number" }),
    /**
     * What it came to when it was posted, by line, tax and instalment, and whom it went to: later
     * changes of tax codes, terms and customers don't touch it.
     */
    figures: jsonb(),
    /** When it went out. */
    sentAt: timestamp({ withTimezone: true }),
  },
  (t) => [index().on(t.partnerId)],
);
