import { LETTER_LANGUAGES } from "../../../core/letters";
import { oneOf } from "./oneOf";
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
  text,
  timestamp,
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { CREDIT_OUTCOMES } from "../../../core/partners/creditLimit";
import type { PaymentTolerance, Terms } from "@/core/openItems";
import type { ScorePolicy } from "@/core/receivables/desk/policy";
import type { ReminderProcedure } from "@/core/receivables/letters/procedure";

/** Terms of payment, by a code. */
export const paymentTerms = pgTable("payment_terms", {
  id: integer().primaryKey().generatedByDefaultAsIdentity(),
  code: text().notNull().unique(),
  name: text().notNull(),
  terms: jsonb().$type<Terms>().notNull(),
});

/** Whom the group buys from or sells to; one row for both. */
export const partner = pgTable(
  "partner",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    code: text().notNull().unique(),
    name: text().notNull(),
    supplier: boolean().notNull().default(false),
    customer: boolean().notNull().default(false),
    street: text().notNull().default(""),
    postcode: text().notNull().default(""),
    city: text().notNull().default(""),
    country: char({ length: 2 }).notNull(),
    email: text().notNull().default(""),
    /** Where what we sell to it goes; empty: where it sits. */
    deliveryName: text().notNull().default(""),
    deliveryStreet: text().notNull().default(""),
    deliveryPostcode: text().notNull().default(""),
    deliveryCity: text().notNull().default(""),
    deliveryCountry: text().notNull().default(""),
    /** Where its statements and reminders go; empty: where it sits. */
    statementName: text().notNull().default(""),
    statementStreet: text().notNull().default(""),
    statementPostcode: text().notNull().default(""),
    statementCity: text().notNull().default(""),
    statementCountry: text().notNull().default(""),
    statementEmail: text().notNull().default(""),
    taxNumber: text().notNull().default(""),
    /** Legal entity identifier (ISO 17442). */
    lei: text().notNull().default(""),
    /** In which papers go out to it. */
    language: text({ enum: LETTER_LANGUAGES }).notNull().default("en"),
    currency: char({ length: 3 }),
    terms: text(),
    method: text().notNull().default("transfer"),
    /** What payments to it are for: ISO 20022; empty where its kind says it. */
    purpose: text().notNull().default(""),
    /** What its invoices are usually coded with. */
    account: text().notNull().default(""),
    dimensions: jsonb().$type<Record<string, string>>().notNull().default({}),
    taxCode: text().notNull().default(""),
    /** Code of the shares by which its invoices are usually split. */
    shares: text().notNull().default(""),
    /** Why nothing is paid at present; empty: it is paid. */
    hold: text().notNull().default(""),
    /** Of a customer: what it may owe, in minor units of that currency; null: nothing is set. */
    creditLimit: bigint({ mode: "bigint" }),
    creditCurrency: char({ length: 3 }).notNull().default("EUR"),
    /** Who insures what it owes, up to what in the limit's currency, and until when. */
    insurer: text().notNull().default(""),
    insuredAmount: bigint({ mode: "bigint" }),
    insuredUntil: date(),
    grade: text().notNull().default(""),
    /** Who collects from it, and who stands in: how they sign in. */
    collector: text().notNull().default(""),
    standIn: text().notNull().default(""),
    customerGroup: text().notNull().default(""),
    /** Code of the partner that pays for it. */
    headOffice: text().notNull().default(""),
    /** For what it is blocked besides, and why. */
    blocks: jsonb().$type<string[]>().notNull().default([]),
    blockReason: text().notNull().default(""),
    blocked: boolean().notNull().default(false),
    version: integer().notNull().default(1),
  },
  (t) => [
    oneOf("partner_language", t.language, LETTER_LANGUAGES),
    check("partner_method", sql`${t.method} in ('transfer', 'cheque', 'manual')`),
    index("partner_name").using("gin", t.name.op("gin_trgm_ops")),
  ],
);

/** A group of customers: what holds for all in it. */
export const customerGroup = pgTable("customer_group", {
  code: text().primaryKey(),
  name: text().notNull(),
  /** How its customers are ranked; null: as is usual. */
  policy: jsonb().$type<ScorePolicy | null>(),
  /** How they are reminded; null: as is usual. */
  reminders: jsonb().$type<ReminderProcedure | null>(),
  /** What is let pass when they pay; null: as is usual. */
  tolerance: jsonb().$type<PaymentTolerance | null>(),
  version: integer().notNull().default(1),
});

/** Whom one speaks to at a partner. */
export const partnerContact = pgTable(
  "partner_contact",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    partnerId: integer()
      .notNull()
      .references(() => partner.id),
    name: text().notNull(),
    role: text().notNull().default(""),
    telephone: text().notNull().default(""),
    email: text().notNull().default(""),
    language: text({ enum: LETTER_LANGUAGES }).notNull().default("en"),
  },
  (t) => [index().on(t.partnerId), oneOf("partner_contact_language", t.language, LETTER_LANGUAGES)],
);

/** A bank account of a partner. A new one pays nothing until a second person has confirmed it. */
export const partnerBank = pgTable(
  "partner_bank",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    partnerId: integer()
      .notNull()
      .references(() => partner.id),
    iban: text().notNull(),
    bic: text().notNull().default(""),
    /** Where there is no IBAN: the account's number, the bank's routing code and its country. */
    number: text().notNull().default(""),
    routing: text().notNull().default(""),
    country: text().notNull().default(""),
    holder: text().notNull().default(""),
    state: text().notNull().default("waiting"),
    changedBy: integer().notNull(),
    changedAt: timestamp({ withTimezone: true }).notNull(),
    decidedBy: integer(),
    decidedAt: timestamp({ withTimezone: true }),
  },
  (t) => [
    index().on(t.partnerId),
    index().on(t.iban),
    check("partner_bank_state", sql`${t.state} in ('waiting', 'confirmed', 'refused', 'ended')`),
  ],
);

/** A higher credit limit that somebody has asked for, and what a second person made of it. */
export const creditRequest = pgTable(
  "credit_request",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    partnerId: integer()
      .notNull()
      .references(() => partner.id),
    /** In minor units of the currency; null for no limit. */
    amount: bigint({ mode: "bigint" }),
    currency: char({ length: 3 }).notNull(),
    reason: text().notNull(),
    askedBy: integer().notNull(),
    askedAt: timestamp({ withTimezone: true }).notNull(),
    outcome: text({ enum: CREDIT_OUTCOMES }),
    note: text().notNull().default(""),
    decidedBy: integer(),
    decidedAt: timestamp({ withTimezone: true }),
  },
  (t) => [
    uniqueIndex("credit_request_open")
      .on(t.partnerId)
      .where(sql`outcome is null`),
    oneOf("credit_request_outcome", t.outcome, CREDIT_OUTCOMES),
    check("credit_request_decided", sql`num_nonnulls(${t.outcome}, ${t.decidedBy}) in (0, 2)`),
    check("credit_request_second", sql`${t.decidedBy} <> ${t.askedBy}`),
  ],
);
