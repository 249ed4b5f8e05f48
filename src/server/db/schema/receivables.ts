import {
  bigint,
  boolean,
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
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { sql } from "drizzle-orm";
import { LETTER_LANGUAGES } from "../../../core/letters";
import { DISPUTE_OUTCOMES, DISPUTE_REASONS } from "../../../core/receivables/desk/dispute";
import {
  DEBIT_SCHEMES,
  DEBIT_SEQUENCES,
  MANDATE_KINDS,
} from "../../../core/receivables/debits/mandate";
import { DEFERRAL_METHODS } from "../../../core/receivables/deferral/deferral";
import { ACCOUNT_LETTERS } from "../../../core/receivables/letters/kinds";
import { document } from "./documents";
import { oneOf } from "./oneOf";
import { journal } from "./ledger";
import { openItem } from "./openItems";
import { company } from "./organisation";
import { partner } from "./partners";
import { receipt } from "./payments";

const units = () => bigint({ mode: "bigint" });

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

/** What a customer has promised to pay, of which items. What became of it is found out, not kept. */
export const promise = pgTable(
  "promise",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    partner: text().notNull(),
    madeOn: date().notNull(),
    due: date().notNull(),
    how: text().notNull().default(""),
    promisedBy: text().notNull().default(""),
    madeBy: integer().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
    /** The newest allocation when it was made: what is settled by later ones counts for it. */
    after: bigint({ mode: "number" }).notNull(),
    withdrawnBy: integer(),
    withdrawnAt: timestamp({ withTimezone: true }),
  },
  (t) => [index().on(t.companyId, t.partner), check("promise_ahead", sql`${t.due} >= ${t.madeOn}`)],
);

export const promiseItem = pgTable(
  "promise_item",
  {
    promiseId: integer()
      .notNull()
      .references(() => promise.id),
    itemId: bigint({ mode: "number" })
      .notNull()
      .references(() => openItem.id),
    currency: char({ length: 3 }).notNull(),
    amount: units().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.promiseId, t.itemId] }),
    index().on(t.itemId),
    check("promise_item_amount", sql`${t.amount} > 0`),
  ],
);

/** An item, or a part of it, that the customer disputes. */
export const dispute = pgTable(
  "dispute",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    partner: text().notNull(),
    itemId: bigint({ mode: "number" })
      .notNull()
      .references(() => openItem.id),
    amount: units().notNull(),
    reason: text().notNull(),
    note: text().notNull().default(""),
    /** Who looks into it, by when. */
    ownerId: integer(),
    by: date(),
    openedBy: integer().notNull(),
    openedOn: date().notNull(),
    openedAt: timestamp({ withTimezone: true }).notNull(),
    outcome: text(),
    closedNote: text().notNull().default(""),
    closedBy: integer(),
    closedOn: date(),
    closedAt: timestamp({ withTimezone: true }),
  },
  (t) => [
    index().on(t.companyId, t.partner),
    /** An item is in one dispute at a time. */
    uniqueIndex("dispute_open")
      .on(t.itemId)
      .where(sql`outcome is null`),
    oneOf("dispute_reason", t.reason, DISPUTE_REASONS),
    oneOf("dispute_outcome", t.outcome, DISPUTE_OUTCOMES),
    check("dispute_amount", sql`${t.amount} > 0`),
  ],
);

/** The yearly rate of interest on what is paid late, from a day on. */
export const lateRate = pgTable("late_rate", {
  from: date().primaryKey(),
  percent: text().notNull(),
});

/**
 * A letter to a customer about its account: a reminder or statement of a run, or a promise
 * confirmed. It counts once its run is posted; what it says of items stands in `letter_item`, and in
 * the items of its run.
 */
export const customerLetter = pgTable(
  "customer_letter",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedAlwaysAsIdentity(),
    runId: bigint({ mode: "number" }).references(() => document.id),
    promiseId: integer().references(() => promise.id),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    partner: text().notNull(),
    kind: text().notNull(),
    level: integer().notNull().default(0),
    date: date().notNull(),
    language: text().notNull(),
    /** What it asks for, and what it charges besides: in the company's currency. */
    amount: units().notNull(),
    fee: units()
      .notNull()
      .default(sql`0`),
    interest: units()
      .notNull()
      .default(sql`0`),
    /** The invoice of its fee and interest, where they are posted. */
    saleId: bigint({ mode: "number" }).references(() => document.id),
    /** To whom it went, and when; null while it waits to be sent. */
    sentTo: text(),
    sentBy: integer(),
    sentAt: timestamp({ withTimezone: true }),
  },
  (t) => [
    index().on(t.runId),
    index().on(t.companyId, t.partner),
    index().on(t.saleId),
    oneOf("customer_letter_kind", t.kind, ACCOUNT_LETTERS),
    oneOf("customer_letter_language", t.language, LETTER_LANGUAGES),
    check(
      "customer_letter_source",
      sql`num_nonnulls(${t.runId}, ${t.promiseId}) = 1
        and (${t.kind} = 'promise') = (${t.promiseId} is not null)`,
    ),
    check("customer_letter_level", sql`(${t.kind} = 'reminder') = (${t.level} > 0)`),
  ],
);

/** An item in a reminder: its level, and up to when interest on it has been charged. */
export const letterItem = pgTable(
  "letter_item",
  {
    letterId: bigint({ mode: "number" })
      .notNull()
      .references(() => customerLetter.id),
    itemId: bigint({ mode: "number" })
      .notNull()
      .references(() => openItem.id),
    level: integer().notNull(),
    interest: units().notNull(),
    /** Null where no interest was charged. */
    interestTo: date(),
  },
  (t) => [primaryKey({ columns: [t.letterId, t.itemId] }), index().on(t.itemId)],
);

/** What was given up of a customer's items, by the journal that did so. */
export const writeOff = pgTable(
  "write_off",
  {
    journalId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => journal.id),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    partner: text().notNull(),
    date: date().notNull(),
    reason: text().notNull(),
    currency: char({ length: 3 }).notNull(),
    amount: units().notNull(),
    /** What the items were carried at, in the company's currency. */
    functional: units().notNull(),
    taxCorrected: boolean().notNull(),
    madeBy: integer().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [index().on(t.companyId, t.date)],
);

/** That a customer may be debited: what it has signed for a company, with the account. */
export const mandate = pgTable(
  "mandate",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    partnerId: integer()
      .notNull()
      .references(() => partner.id),
    reference: text().notNull(),
    signed: date().notNull(),
    scheme: text({ enum: DEBIT_SCHEMES }).notNull(),
    kind: text({ enum: MANDATE_KINDS }).notNull(),
    iban: text().notNull(),
    bic: text().notNull().default(""),
    /** Who holds the account; "" for the customer. */
    holder: text().notNull().default(""),
    /** Days before which the customer is told. */
    notice: integer().notNull(),
    ended: date(),
    endedWhy: text().notNull().default(""),
  },
  (t) => [
    uniqueIndex("mandate_reference").on(t.companyId, t.reference),
    uniqueIndex("mandate_live")
      .on(t.companyId, t.partnerId)
      .where(sql`ended is null`),
    oneOf("mandate_scheme", t.scheme, DEBIT_SCHEMES),
    oneOf("mandate_kind", t.kind, MANDATE_KINDS),
  ],
);

/** A receipt that a customer is debited for: by which mandate, in which run and file. */
export const directDebit = pgTable(
  "direct_debit",
  {
    receiptId: bigint({ mode: "number" })
      .primaryKey()
      .references(() => receipt.documentId),
    mandateId: integer()
      .notNull()
      .references(() => mandate.id),
    runId: bigint({ mode: "number" }).notNull(),
    sequence: text({ enum: DEBIT_SEQUENCES }).notNull(),
    /** The file that it went out with. */
    fileId: bigint({ mode: "number" }),
    /** Why it was undone. */
    reason: text().notNull().default(""),
  },
  (t) => [
    index().on(t.runId),
    index().on(t.mandateId),
    index().on(t.fileId),
    oneOf("direct_debit_sequence", t.sequence, DEBIT_SEQUENCES),
  ],
);

/**
 * Revenue of a line of an invoice or credit note that is earned over a time. In the company's
 * currency: what is owed in services is no money, and keeps the rate of its day.
 */
export const deferral = pgTable(
  "deferral",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedAlwaysAsIdentity(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    documentId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id),
    line: integer().notNull(),
    /** The liability on which it waits. */
    account: text().notNull(),
    /** Where it goes as it is earned. */
    coding: jsonb()
      .$type<{ account: string; dimensions: Record<string, string>; description: string }>()
      .notNull(),
    firstDay: date().notNull(),
    lastDay: date().notNull(),
    method: text({ enum: DEFERRAL_METHODS }).notNull(),
    /** Positive is revenue to come; of a credit note negative. */
    amount: units().notNull(),
  },
  (t) => [
    index().on(t.companyId, t.firstDay),
    index().on(t.documentId),
    oneOf("deferral_method", t.method, DEFERRAL_METHODS),
    check("deferral_days", sql`${t.firstDay} <= ${t.lastDay}`),
  ],
);

/**
 * What a line of an invoice or credit note does to a prepayment: the invoice that asks for it is `of`
 * itself. Net, in its currency; positive is what is asked for.
 */
export const prepayment = pgTable(
  "prepayment",
  {
    companyId: integer()
      .notNull()
      .references(() => company.id),
    documentId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id),
    line: integer().notNull(),
    ofId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id),
    taxCode: text().notNull(),
    amount: units().notNull(),
  },
  (t) => [primaryKey({ columns: [t.documentId, t.line] }), index().on(t.ofId)],
);

/** What a run has released of deferred revenue; gone where the run is reversed. */
export const deferralRelease = pgTable(
  "deferral_release",
  {
    deferralId: bigint({ mode: "number" })
      .notNull()
      .references(() => deferral.id),
    runId: bigint({ mode: "number" }).notNull(),
    amount: units().notNull(),
  },
  (t) => [primaryKey({ columns: [t.deferralId, t.runId] }), index().on(t.runId)],
);
