import { sql } from "drizzle-orm";
import {
  bigint,
  boolean,
  char,
  check,
  date,
  index,
  integer,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { MADE_BY } from "../../../core/banks";
import { oneOf } from "./oneOf";
import { bankAccount } from "./banks";
import { document } from "./documents";
import { openItem } from "./openItems";

const units = () => bigint({ mode: "bigint" });

/**
 * A payment that was posted: from a run, or by itself. Number, date, amount and status stand in the
 * register.
 */
export const payment = pgTable(
  "payment",
  {
    documentId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id),
    /** The run that made it. */
    runId: bigint({ mode: "number" }),
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    partner: text().notNull(),
    payee: text().notNull(),
    method: text({ enum: MADE_BY }).notNull(),
    /** When a bill or note is to be paid. */
    dueDate: date(),
    discount: units()
      .notNull()
      .default(sql`0`),
    iban: text().notNull().default(""),
    bic: text().notNull().default(""),
    accountNumber: text().notNull().default(""),
    routing: text().notNull().default(""),
    bankCountry: text().notNull().default(""),
    /** Who holds the account, where it was said. */
    holder: text().notNull().default(""),
    journalId: bigint({ mode: "number" }).notNull(),
    /** The account of our own that it goes to: its journals then leave an item there as well. */
    toBankId: integer().references(() => bankAccount.id),
    /** What it is for, as the bank is told: ISO 20022. */
    purpose: text().notNull().default("SUPP"),
    /** What is said of it beside its numbers. */
    text: text().notNull().default(""),
    /** The file that it went out with. */
    fileId: bigint({ mode: "number" }),
    reason: text().notNull().default(""),
  },
  (t) => [
    oneOf("payment_method", t.method, MADE_BY),
    check("payment_due", sql`(${t.method} in ('bill', 'note')) = (${t.dueDate} is not null)`),
    index().on(t.runId),
    index().on(t.journalId),
    index().on(t.partner),
  ],
);

/** What a payment took from an open item: signed as the item, and the discount within it. */
export const paymentItem = pgTable(
  "payment_item",
  {
    paymentId: bigint({ mode: "number" })
      .notNull()
      .references(() => payment.documentId),
    itemId: bigint({ mode: "number" })
      .notNull()
      .references(() => openItem.id),
    taken: units().notNull(),
    functional: units().notNull(),
    discount: units()
      .notNull()
      .default(sql`0`),
    /** The discount that could have been had when it was paid later than that. */
    lost: units()
      .notNull()
      .default(sql`0`),
  },
  (t) => [primaryKey({ columns: [t.paymentId, t.itemId] }), index().on(t.itemId)],
);

/** A payment file as it was made: what was sent to the bank stays as it was. */
export const paymentFile = pgTable("payment_file", {
  id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
  runId: bigint({ mode: "number" }).notNull(),
  messageId: text().notNull().unique(),
  name: text().notNull(),
  content: text().notNull(),
  madeBy: integer().notNull(),
  madeAt: timestamp({ withTimezone: true }).notNull(),
});

/**
 * A cheque on paper. Its number is used once for a bank account, whatever becomes of it; that of a
 * spoilt form again where the account is set up so.
 */
export const cheque = pgTable(
  "cheque",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    number: bigint({ mode: "number" }).notNull(),
    runId: bigint({ mode: "number" }).notNull(),
    /** The payment of the run that it is for, before and after posting. */
    paymentKey: text().notNull(),
    paymentId: bigint({ mode: "number" }),
    payee: text().notNull(),
    date: date().notNull(),
    currency: char({ length: 3 }).notNull(),
    amount: units().notNull(),
    state: text().notNull().default("printed"),
    reason: text().notNull().default(""),
    /** Whether its form was spoilt and its number was given again. */
    reused: boolean().notNull().default(false),
    /** How often it has come out of the printer; from the second time on it is a copy. */
    prints: integer().notNull().default(0),
    printedBy: integer().notNull(),
    printedAt: timestamp({ withTimezone: true }).notNull(),
    decidedBy: integer(),
    decidedAt: timestamp({ withTimezone: true }),
  },
  (t) => [
    uniqueIndex("cheque_number")
      .on(t.bankAccountId, t.number)
      .where(sql`not reused`),
    check("cheque_reused", sql`not ${t.reused} or ${t.state} = 'voided'`),
    uniqueIndex("cheque_live")
      .on(t.runId, t.paymentKey)
      .where(sql`state in ('printed', 'cancelling')`),
    check(
      "cheque_state",
      sql`${t.state} in ('printed', 'voided', 'cancelling', 'cancelled', 'missing')`,
    ),
  ],
);

/** The simulated mailbox: what would have been sent, to be read in the application. */
export const outbox = pgTable(
  "outbox",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    companyId: integer().notNull(),
    documentId: bigint({ mode: "number" }),
    to: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    sentBy: integer().notNull(),
    sentAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [index().on(t.companyId, t.id), index().on(t.documentId)],
);

/** What is attached to a mail, in its order. */
export const outboxFile = pgTable(
  "outbox_file",
  {
    outboxId: bigint({ mode: "number" })
      .notNull()
      .references(() => outbox.id),
    no: smallint().notNull(),
    name: text().notNull(),
    /** base64 */
    content: text().notNull(),
  },
  (t) => [primaryKey({ columns: [t.outboxId, t.no] })],
);

/** How a payment can be asked to be undone. */
const UNDOINGS = ["reversed", "rejected", "recalled"] as const;

/** What somebody has asked a second person to do with a payment. */
export const paymentRequest = pgTable(
  "payment_request",
  {
    documentId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => payment.documentId),
    how: text({ enum: UNDOINGS }).notNull(),
    reason: text().notNull(),
    /** The day that was given for it; null for that of the payment. */
    date: date(),
    askedBy: integer().notNull(),
    askedAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [oneOf("payment_request_how", t.how, UNDOINGS)],
);

/**
 * Money of a customer that a bank has brought: from a line of a statement. Number, date, amount and
 * status stand in the register.
 */
export const receipt = pgTable(
  "receipt",
  {
    documentId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id),
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    partner: text().notNull(),
    payer: text().notNull(),
    discount: units()
      .notNull()
      .default(sql`0`),
    journalId: bigint({ mode: "number" }).notNull(),
  },
  (t) => [uniqueIndex("receipt_journal").on(t.journalId), index().on(t.partner)],
);

/** What a receipt took from an open item: signed as the item, and the discount within it. */
export const receiptItem = pgTable(
  "receipt_item",
  {
    receiptId: bigint({ mode: "number" })
      .notNull()
      .references(() => receipt.documentId),
    itemId: bigint({ mode: "number" })
      .notNull()
      .references(() => openItem.id),
    taken: units().notNull(),
    functional: units().notNull(),
    discount: units()
      .notNull()
      .default(sql`0`),
  },
  (t) => [primaryKey({ columns: [t.receiptId, t.itemId] }), index().on(t.itemId)],
);
