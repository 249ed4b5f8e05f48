import { sql } from "drizzle-orm";
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
} from "drizzle-orm/pg-core";
import { ACCOUNT_REQUESTS, UNDO_KINDS } from "../../../core/banks/accountUse";
import { ACCOUNT_KINDS, STATEMENT_FORMATS } from "../../../core/banks/bankRecord";
import { DEPOSIT_KINDS, DEPOSIT_STATES } from "../../../core/banks/depositKinds";
import type { PaperLayout } from "../../../core/banks/papers/layout";
import { PAPER_KINDS } from "../../../core/banks/papers/pieces";
import type { SlipRequest } from "../../../core/banks/slipRequest";
import { document } from "./documents";
import { oneOf } from "./oneOf";
import { company } from "./organisation";

/** A bank: once for all accounts that the group has there. */
export const bank = pgTable("bank", {
  id: integer().primaryKey().generatedByDefaultAsIdentity(),
  name: text().notNull().unique(),
  /** ISO 3166. */
  country: char({ length: 2 }).notNull(),
  /** Sort code, bank code or routing code at home. */
  nationalCode: text().notNull().default(""),
  bic: text().notNull().default(""),
  address: text().notNull().default(""),
  contact: text().notNull().default(""),
  /** Until when it takes payments for the same day; "" where that is not known. */
  cutOff: text().notNull().default(""),
  holidays: date().array().notNull().default([]),
  version: integer().notNull().default(1),
});

/** A bank account of a company of the group: what payments are made from. */
export const bankAccount = pgTable(
  "bank_account",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    code: text().notNull().unique(),
    name: text().notNull(),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    /** Null where the bank is only named. */
    bankId: integer().references(() => bank.id),
    kind: text({ enum: ACCOUNT_KINDS }).notNull().default("current"),
    /** The day before which no money moves there. */
    openedOn: date(),
    /** The day from which nothing is paid from it any more. */
    closedOn: date(),
    /** What waits for a second person, and from which day on it is to be closed. */
    waits: text({ enum: ACCOUNT_REQUESTS }).notNull().default(""),
    /** All who have changed any of what waits: none of them agrees. */
    askedBy: integer().array().notNull().default([]),
    closesOn: date(),
    /** Who holds it, where that is not the company; and who may sign for it at the bank. */
    holder: text().notNull().default(""),
    signatories: text().notNull().default(""),
    currency: char({ length: 3 }).notNull(),
    iban: text().notNull().default(""),
    bic: text().notNull().default(""),
    /** Where there is no IBAN: number, routing code and country of the bank. */
    number: text().notNull().default(""),
    routing: text().notNull().default(""),
    country: text().notNull().default(""),
    /** The bank's name and address, as cheques show them. */
    bankName: text().notNull().default(""),
    account: text().notNull(),
    /** What has left but is not on a statement yet stands here. */
    underWayAccount: text().notNull(),
    /** How far it may be overdrawn, in its currency's minor units, and what happens beyond. */
    overdraft: bigint({ mode: "bigint" })
      .notNull()
      .default(sql`0`),
    /** By how much beyond that before anything is said. */
    tolerance: bigint({ mode: "bigint" })
      .notNull()
      .default(sql`0`),
    beyond: text().notNull().default("warn"),
    /** The largest single payment, in its currency's minor units; none where nothing is said. */
    largestPayment: bigint({ mode: "bigint" }),
    /** The number last used on a cheque. */
    lastCheque: bigint({ mode: "number" }).notNull().default(0),
    /** Sort code and account number as the magnetic line of a cheque has them. */
    chequeSort: text().notNull().default(""),
    chequeAccount: text().notNull().default(""),
    /** A picture of the signature (PNG, base64). */
    signature: text().notNull().default(""),
    /** What of it is undone only once a second person has looked. */
    undoReviews: text({ enum: UNDO_KINDS }).array().notNull().default([]),
    /** Whether what is certain of a file of statements is posted when it comes in. */
    postsCertain: boolean().notNull().default(false),
    /** Values of what is coded of its lines where nothing else is said, by dimension. */
    dimensions: jsonb().$type<Record<string, string>>().notNull().default({}),
    /** In which form its statements come, by which way, and whether they are matched at once. */
    statementFormat: text({ enum: STATEMENT_FORMATS }).notNull().default("any"),
    fromFolder: boolean().notNull().default(true),
    matchesAtOnce: boolean().notNull().default(true),
    version: integer().notNull().default(1),
  },
  (t) => [
    oneOf("bank_account_kind", t.kind, ACCOUNT_KINDS),
    oneOf("bank_account_format", t.statementFormat, STATEMENT_FORMATS),
    oneOf("bank_account_waits", t.waits, ACCOUNT_REQUESTS),
    check(
      "bank_account_asked",
      sql`(${t.waits} = '') = (${t.askedBy} = '{}') and (${t.waits} = 'closing') = (${t.closesOn} is not null)`,
    ),
    check("bank_account_beyond", sql`${t.beyond} in ('warn', 'refuse')`),
    check(
      "bank_account_reviews",
      sql`${t.undoReviews} <@ array['cheques', 'deposits', 'payments']`,
    ),
  ],
);

/** How the cheques, bills and notes of an account look, where that was set up. */
export const bankPaper = pgTable(
  "bank_paper",
  {
    bankAccountId: integer()
      .notNull()
      .references(() => bankAccount.id),
    kind: text({ enum: PAPER_KINDS }).notNull(),
    layout: jsonb().$type<PaperLayout>().notNull(),
    version: integer().notNull().default(1),
  },
  (t) => [
    primaryKey({ columns: [t.bankAccountId, t.kind] }),
    oneOf("bank_paper_kind", t.kind, PAPER_KINDS),
  ],
);

/** How often a bill or note came out of the printer: from the second time on it is a copy. */
export const draftPrint = pgTable(
  "draft_print",
  {
    documentId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id),
    /** The part of its slip; 0 for a payment. */
    no: integer().notNull().default(0),
    prints: integer().notNull().default(1),
  },
  (t) => [primaryKey({ columns: [t.documentId, t.no] })],
);

/** A slip of cheques and cash that went to the bank. Number, date, amount and status: the register. */
export const deposit = pgTable("deposit", {
  documentId: bigint({ mode: "number" })
    .primaryKey()
    .references(() => document.id),
  bankAccountId: integer()
    .notNull()
    .references(() => bankAccount.id),
  /** Why it was cancelled. */
  reason: text().notNull().default(""),
});

/** What a second person is asked to do with a slip; gone once that is decided, and in the history. */
export const depositRequest = pgTable("deposit_request", {
  documentId: bigint({ mode: "number" })
    .primaryKey()
    .references(() => deposit.documentId),
  request: jsonb().$type<SlipRequest>().notNull(),
  askedBy: integer().notNull(),
  askedAt: timestamp({ withTimezone: true }).notNull(),
});

/** A cheque or the cash of a customer on a slip, with the journal of its own. */
export const depositPart = pgTable(
  "deposit_part",
  {
    documentId: bigint({ mode: "number" })
      .notNull()
      .references(() => deposit.documentId),
    no: integer().notNull(),
    kind: text({ enum: DEPOSIT_KINDS }).notNull(),
    partner: text().notNull(),
    payer: text().notNull(),
    cheque: text().notNull().default(""),
    amount: bigint({ mode: "bigint" }).notNull(),
    /** When a bill or note is to be paid. */
    dueDate: date(),
    /** What of the amount is for paying later, or is kept of a card payment. */
    fee: bigint({ mode: "bigint" })
      .notNull()
      .default(sql`0`),
    journalId: bigint({ mode: "number" }).notNull(),
    state: text({ enum: DEPOSIT_STATES }).notNull().default("deposited"),
    /** Why it came back, and the journal that opened what it had paid. */
    reason: text().notNull().default(""),
    returnJournalId: bigint({ mode: "number" }),
  },
  (t) => [
    primaryKey({ columns: [t.documentId, t.no] }),
    index().on(t.journalId),
    index().on(t.returnJournalId),
    oneOf("deposit_part_kind", t.kind, DEPOSIT_KINDS),
    oneOf("deposit_part_state", t.state, DEPOSIT_STATES),
    check("deposit_part_amount", sql`${t.amount} > 0 and ${t.fee} >= 0 and ${t.fee} < ${t.amount}`),
    check(
      "deposit_part_due",
      sql`(${t.kind} in ('bill', 'note')) = (${t.dueDate} is not null) and
        (${t.fee} = 0 or ${t.dueDate} is not null or ${t.kind} = 'card')`,
    ),
  ],
);
