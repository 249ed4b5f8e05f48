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
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { CLEAN_UP_ACTIONS } from "../../../core/purchasing";
import { ITEM_KINDS } from "../../../core/trade";
import { SHARE_WAYS } from "../../../core/shares";
import { oneOf } from "./oneOf";
import { document } from "./documents";
import { partner } from "./partners";

const units = () => bigint({ mode: "bigint" });
const documentId = () =>
  bigint({ mode: "number" })
    .notNull()
    .references(() => document.id);

/** How a cost is split over targets. */
export const shareSet = pgTable(
  "share_set",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    code: text().notNull().unique(),
    name: text().notNull(),
    way: text({ enum: SHARE_WAYS }).notNull(),
    targets: jsonb().notNull(),
  },
  (t) => [oneOf("share_set_way", t.way, SHARE_WAYS)],
);

/** How far invoices may differ from orders: for a supplier, for a group of items, or for all. */
export const matchTolerance = pgTable(
  "match_tolerance",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    supplier: text().notNull().default(""),
    itemGroup: text().notNull().default(""),
    pricePercent: text(),
    /** Minor units of the order's currency. */
    priceAmount: units(),
    quantityPercent: text(),
    /** Thousandths. */
    quantityAmount: units(),
    /** Per cent by which more than ordered may be received. */
    receiptPercent: text().notNull().default("0"),
  },
  (t) => [uniqueIndex("match_tolerance_for").on(t.supplier, t.itemGroup)],
);

/** A request or an order, as written. Number, date, amount and status stand in the register. */
export const purchaseOrder = pgTable(
  "purchase_order",
  {
    documentId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id, { onDelete: "cascade" }),
    partnerId: integer().references(() => partner.id),
    content: jsonb().notNull(),
    version: integer().notNull().default(1),
    /** What it came to when it was placed: net and tax in minor units as text. */
    figures: jsonb(),
    updatedBy: integer().notNull(),
    updatedAt: timestamp({ withTimezone: true }).notNull(),
    sentAt: timestamp({ withTimezone: true }),
  },
  (t) => [index().on(t.partnerId)],
);

/** What an order said before it was changed. */
export const orderVersion = pgTable(
  "order_version",
  {
    documentId: documentId(),
    version: integer().notNull(),
    content: jsonb().notNull(),
    net: units().notNull(),
    by: integer().notNull(),
    at: timestamp({ withTimezone: true }).notNull(),
    reason: text().notNull(),
  },
  (t) => [primaryKey({ columns: [t.documentId, t.version] })],
);

/** A line of an order in force. */
export const orderLine = pgTable(
  "order_line",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    orderId: documentId(),
    no: smallint().notNull(),
    item: text().notNull(),
    kind: text({ enum: ITEM_KINDS }).notNull(),
    itemGroup: text().notNull(),
    account: text().notNull(),
    dimensions: jsonb().$type<Record<string, string>>().notNull(),
    description: text().notNull(),
    /** Thousandths. */
    quantity: units().notNull(),
    unit: text().notNull(),
    price: text().notNull(),
    /** Minor units of the order's currency; burden is the tax in it that can't be recovered. */
    net: units().notNull(),
    burden: units().notNull(),
    taxCode: text().notNull(),
    deliveries: jsonb().notNull(),
    /** Thousandths; kept beside receipts and matches so that what is outstanding needs no sum. */
    received: units()
      .notNull()
      .default(sql`0`),
    invoiced: units()
      .notNull()
      .default(sql`0`),
  },
  (t) => [
    oneOf("order_line_kind", t.kind, ITEM_KINDS),
    uniqueIndex("order_line_no").on(t.orderId, t.no),
    index().on(t.account),
  ],
);

/** What was received or returned of an order line, signed. */
export const goodsReceiptLine = pgTable(
  "goods_receipt_line",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    receiptId: documentId(),
    orderLineId: bigint({ mode: "number" })
      .notNull()
      .references(() => orderLine.id),
    quantity: units().notNull(),
    date: date().notNull(),
  },
  (t) => [index().on(t.receiptId), index().on(t.orderLineId)],
);

/**
 * Everything that moves what is received and not invoiced, never changed: what all entries of a
 * company come to is the balance of the GRNI control account.
 * Signed as owed: a receipt is positive, an invoice negative.
 */
export const grniEntry = pgTable(
  "grni_entry",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    companyId: integer().notNull(),
    receiptLineId: bigint({ mode: "number" })
      .notNull()
      .references(() => goodsReceiptLine.id),
    /** received, returned, invoiced, cleaned, reopened; and what takes one of them back. */
    kind: text().notNull(),
    documentId: documentId(),
    journalId: bigint({ mode: "number" }).notNull(),
    date: date().notNull(),
    /** The company's place in its chain: what a list as known then counts. */
    seq: units().notNull(),
    quantity: units().notNull(),
    foreign: units().notNull(),
    functional: units().notNull(),
    /** Where a clean-up wrote off to. */
    account: text().notNull().default(""),
    dimensions: jsonb().$type<Record<string, string>>().notNull().default({}),
    reason: text().notNull().default(""),
    madeBy: integer().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [
    index().on(t.receiptLineId),
    index().on(t.documentId),
    index().on(t.companyId, t.kind, t.date),
    check(
      "grni_entry_kind",
      sql`${t.kind} in ('received', 'returned', 'invoiced', 'cleaned', 'reopened')`,
    ),
  ],
);

/** How much of an order line an invoice bills. */
export const invoiceMatch = pgTable(
  "invoice_match",
  {
    invoiceId: documentId(),
    line: integer().notNull(),
    orderLineId: bigint({ mode: "number" })
      .notNull()
      .references(() => orderLine.id),
    /** The journal that billed it, or that took it back: then the quantity is negative. */
    journalId: bigint({ mode: "number" }).notNull(),
    quantity: units().notNull(),
  },
  (t) => [primaryKey({ columns: [t.invoiceId, t.line, t.journalId] }), index().on(t.orderLineId)],
);

/** What to do with small leftovers; the order of the rules decides. */
export const cleanUpRule = pgTable(
  "clean_up_rule",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    place: integer().notNull(),
    name: text().notNull(),
    company: text(),
    conditions: jsonb().notNull(),
    /** coding: to the order line's coding; account: to a set one; ask: put before a person. */
    action: text({ enum: CLEAN_UP_ACTIONS }).notNull(),
    account: text().notNull().default(""),
    dimensions: jsonb().$type<Record<string, string>>().notNull().default({}),
    active: boolean().notNull().default(true),
  },
  (t) => [oneOf("clean_up_rule_action", t.action, CLEAN_UP_ACTIONS)],
);
