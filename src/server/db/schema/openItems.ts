import { sql } from "drizzle-orm";
import {
  bigint,
  char,
  check,
  date,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { ITEM_CONTROLS, OPEN_ITEM_KINDS } from "../../../core/ledger";
import { ALLOCATION_KINDS } from "../../../core/openItems";
import { oneOf } from "./oneOf";
import { account, journal } from "./ledger";
import { document } from "./documents";
import { company } from "./organisation";
import { person } from "./access";

const units = () => bigint({ mode: "bigint" });

/**
 * What a line on a partner's control account leaves to be settled. Every such line makes one,
 * except those that only carry a difference of an allocation:
 * so what is left of all items is always the balance of the account. Signed, a debit is positive.
 */
export const openItem = pgTable(
  "open_item",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    area: text().notNull(),
    accountId: integer()
      .notNull()
      .references(() => account.id),
    partner: text().notNull(),
    kind: text({ enum: OPEN_ITEM_KINDS }).notNull(),
    /** The document that it belongs to: the journal itself, or the invoice or payment behind it. */
    documentId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id),
    journalId: bigint({ mode: "number" })
      .notNull()
      .references(() => journal.id),
    lineNo: integer().notNull(),
    /** The place of the journal in its company's chain. */
    seq: units().notNull(),
    reference: text().notNull(),
    date: date().notNull(),
    dueDate: date().notNull(),
    currency: char({ length: 3 }).notNull(),
    amount: units().notNull(),
    functional: units().notNull(),
    leftAmount: units().notNull(),
    leftFunctional: units().notNull(),
    /**
     * What can be deducted for paying early: last day, per cent, and amount of the whole item in
     * minor units as text.
     */
    discounts: jsonb()
      .$type<{ until: string; percent: string; amount: string }[]>()
      .notNull()
      .default([]),
    /** Why it is not paid at present; empty: it is. */
    hold: text().notNull().default(""),
  },
  (t) => [
    unique().on(t.journalId, t.lineNo),
    index("open_item_open")
      .on(t.companyId, t.area, t.partner)
      .where(sql`left_amount <> 0`),
    index().on(t.companyId, t.area, t.dueDate),
    index().on(t.documentId),
    oneOf("open_item_kind", t.kind, OPEN_ITEM_KINDS),
    oneOf("open_item_area", t.area, Object.keys(ITEM_CONTROLS)),
    check(
      "open_item_left",
      sql`(${t.amount} >= 0 and ${t.leftAmount} between 0 and ${t.amount}) or (${t.amount} < 0
        and ${t.leftAmount} between ${t.amount} and 0)`,
    ),
  ],
);

/** How much a person may write off at once in a company, in its currency; none where nothing is said. */
export const writeOffLimit = pgTable(
  "write_off_limit",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    amount: units().notNull(),
    version: integer().notNull().default(1),
  },
  (t) => [
    unique("write_off_limit_once").on(t.personId, t.companyId),
    check("write_off_limit_amount", sql`${t.amount} >= 0`),
  ],
);

/** One act of setting items against each other. It is never changed: another one undoes it. */
export const allocation = pgTable(
  "allocation",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    kind: text({ enum: ALLOCATION_KINDS }).notNull(),
    date: date().notNull(),
    /** The head of the company's chain at that moment: what a report as known then counts. */
    seq: units().notNull(),
    /**
     * The journal that it belongs to: a reversal, a payment, or the one that carries its
     * difference.
     */
    journalId: bigint({ mode: "number" }),
    undoesId: bigint({ mode: "number" }),
    madeBy: integer().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [
    oneOf("allocation_kind", t.kind, ALLOCATION_KINDS),
    index().on(t.journalId),
    uniqueIndex("allocation_undone_once")
      .on(t.undoesId)
      .where(sql`undoes_id is not null`),
  ],
);

/** What an allocation takes from an item, with the item's sign. */
export const allocationLine = pgTable(
  "allocation_line",
  {
    allocationId: bigint({ mode: "number" })
      .notNull()
      .references(() => allocation.id),
    itemId: bigint({ mode: "number" })
      .notNull()
      .references(() => openItem.id),
    amount: units().notNull(),
    functional: units().notNull(),
  },
  (t) => [primaryKey({ columns: [t.allocationId, t.itemId] }), index().on(t.itemId)],
);
