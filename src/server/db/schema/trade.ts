import { boolean, integer, jsonb, pgTable, text, unique } from "drizzle-orm/pg-core";
import { ITEM_KINDS, ITEM_SIDES } from "../../../core/trade";
import { oneOf } from "./oneOf";

/** What is bought or sold again and again, with what it proposes on a line. */
export const tradeItem = pgTable(
  "trade_item",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    side: text({ enum: ITEM_SIDES }).notNull(),
    code: text().notNull(),
    name: text().notNull(),
    kind: text({ enum: ITEM_KINDS }).notNull().default("goods"),
    group: text().notNull().default(""),
    unit: text().notNull().default(""),
    account: text().notNull().default(""),
    dimensions: jsonb().$type<Record<string, string>>().notNull().default({}),
    taxCode: text().notNull().default(""),
    price: text().notNull().default(""),
    /** Of the price; empty: the company's own. */
    currency: text().notNull().default(""),
    blocked: boolean().notNull().default(false),
  },
  (t) => [
    unique("trade_item_once").on(t.side, t.code),
    oneOf("trade_item_side", t.side, ITEM_SIDES),
    oneOf("trade_item_kind", t.kind, ITEM_KINDS),
  ],
);
