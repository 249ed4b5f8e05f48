import { integer, jsonb, pgTable, primaryKey, text, timestamp } from "drizzle-orm/pg-core";
import type { ColumnLayout, OutlineLine } from "../../../core/statements";

/** Outlines are versioned: a report as known then uses the version of that time. */
export const outline = pgTable(
  "outline",
  {
    code: text().notNull(),
    version: integer().notNull(),
    name: text().notNull(),
    kind: text().notNull(),
    lines: jsonb().$type<OutlineLine[]>().notNull(),
    layout: jsonb().$type<ColumnLayout>().notNull(),
    savedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    savedBy: integer(),
    /** Since when statements are made by it; null while it is a draft. */
    usedAt: timestamp({ withTimezone: true }),
  },
  (t) => [primaryKey({ columns: [t.code, t.version] })],
);
