import { sql } from "drizzle-orm";
import {
  bigint,
  boolean,
  char,
  check,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  unique,
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { ACCOUNT_TYPES, CONTROL_KINDS } from "../../../core/ledger";
import { oneOf } from "./oneOf";
import { document } from "./documents";
import { book, company, fiscalYear, period } from "./organisation";

const units = () => bigint({ mode: "bigint" });

export const heading = pgTable("heading", {
  id: integer().primaryKey().generatedByDefaultAsIdentity(),
  code: text().notNull().unique(),
  name: text().notNull(),
  parentId: integer(),
  sort: integer().notNull(),
});

export const account = pgTable(
  "account",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    number: text().notNull().unique(),
    name: text().notNull(),
    type: text().notNull(),
    control: text(),
    monetary: boolean().notNull(),
    headingId: integer()
      .notNull()
      .references(() => heading.id),
    blocked: boolean().notNull().default(false),
    /** The companies that use it; null for all. */
    companyIds: integer().array(),
    /** The only currency that it takes; null for any. */
    currency: char({ length: 3 }),
  },
  (t) => [
    oneOf("account_type", t.type, ACCOUNT_TYPES),
    oneOf("account_control", t.control, CONTROL_KINDS),
  ],
);

export const dimension = pgTable(
  "dimension",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    slot: smallint().notNull().unique(),
    code: text().notNull().unique(),
    name: text().notNull(),
    balancing: text().notNull().default("no"),
    balancingAccount: text(),
  },
  (t) => [
    check("dimension_slot", sql`${t.slot} between 1 and 16`),
    check("dimension_balancing", sql`${t.balancing} in ('no', 'refuse', 'add')`),
  ],
);

export const dimensionValue = pgTable(
  "dimension_value",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    dimensionId: integer()
      .notNull()
      .references(() => dimension.id),
    code: text().notNull(),
    name: text().notNull(),
    parentId: integer(),
    activeFrom: date(),
    activeTo: date(),
    blocked: boolean().notNull().default(false),
    responsibleId: integer(),
    proposes: jsonb().$type<Record<string, string>>().notNull().default({}),
  },
  (t) => [unique().on(t.dimensionId, t.code)],
);

export const accountDimension = pgTable(
  "account_dimension",
  {
    accountId: integer()
      .notNull()
      .references(() => account.id),
    dimensionId: integer()
      .notNull()
      .references(() => dimension.id),
    rule: text().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.accountId, t.dimensionId] }),
    check("dimension_rule", sql`${t.rule} in ('required', 'allowed', 'forbidden')`),
  ],
);

/** A set of dimension values, by its canonical key. Never changed once made. */
export const coding = pgTable("coding", {
  id: integer().primaryKey().generatedByDefaultAsIdentity(),
  key: text().notNull().unique(),
  valueIds: integer().array().notNull(),
});

export const numberSeries = pgTable("number_series", {
  code: text().primaryKey(),
  prefix: text().notNull().default(""),
  digits: smallint().notNull().default(5),
});

export const numberCounter = pgTable(
  "number_counter",
  {
    series: text()
      .notNull()
      .references(() => numberSeries.code),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    yearId: integer()
      .notNull()
      .references(() => fiscalYear.id),
    last: integer().notNull().default(0),
  },
  (t) => [primaryKey({ columns: [t.series, t.companyId, t.yearId] })],
);

export const journalType = pgTable("journal_type", {
  id: integer().primaryKey().generatedByDefaultAsIdentity(),
  code: text().notNull().unique(),
  name: text().notNull(),
  area: text().notNull(),
  series: text()
    .notNull()
    .references(() => numberSeries.code),
  manual: boolean().notNull(),
  reversal: text().notNull().default("swap"),
  controls: jsonb().$type<string[]>().notNull().default([]),
  /** How descriptions are proposed: text with {month}, {year}, {company}. */
  naming: text().notNull().default(""),
  /**
   * Whether journals of this type are reversed on the first day of the next period unless they say
   * otherwise.
   */
  reverses: boolean().notNull().default(false),
  /** Whether due reversals post by themselves when their period opens. */
  autoReverse: boolean().notNull().default(false),
  /**
   * Codes of the books that journals of this type may belong to alone; with none named, any, and
   * all together.
   */
  books: jsonb().$type<string[]>().notNull().default([]),
  /** Whether such journals need a second person: as the rules say, always, or never. */
  approval: text().notNull().default("rules"),
});

/** The head of a company's chain of posted journals. Posting locks it first. */
export const chain = pgTable("chain", {
  companyId: integer()
    .primaryKey()
    .references(() => company.id),
  seq: units()
    .notNull()
    .default(sql`0`),
  hash: text().notNull().default(""),
  /**
   * When the newest journal was posted: no later one says an earlier instant, even if the machine's
   * clock is set back.
   */
  lastPostedAt: timestamp({ withTimezone: true }),
});

export const journal = pgTable(
  "journal",
  {
    id: bigint({ mode: "number" })
      .primaryKey()
      .references(() => document.id),
    companyId: integer()
      .notNull()
      .references(() => company.id),
    seq: units().notNull(),
    number: text().notNull().unique(),
    series: text().notNull(),
    serial: integer().notNull(),
    typeId: integer()
      .notNull()
      .references(() => journalType.id),
    bookId: smallint()
      .notNull()
      .references(() => book.id),
    date: date().notNull(),
    yearId: integer().notNull(),
    periodNo: smallint().notNull(),
    closing: boolean().notNull().default(false),
    description: text().notNull(),
    reference: text().notNull().default(""),
    /** Sum of debits in functional minor units. */
    total: units().notNull(),
    lineCount: integer().notNull(),
    /** The day on which it is to be reversed by itself. */
    reverseOn: date(),
    reversesId: bigint({ mode: "number" }),
    originId: bigint({ mode: "number" }),
    preparedBy: integer().notNull(),
    postedBy: integer().notNull(),
    postedAt: timestamp({ withTimezone: true }).notNull(),
    previousHash: text().notNull(),
    hash: text().notNull(),
  },
  (t) => [
    unique().on(t.companyId, t.seq),
    unique().on(t.series, t.companyId, t.yearId, t.serial),
    uniqueIndex("journal_reversed_once")
      .on(t.reversesId)
      .where(sql`reverses_id is not null`),
    index().on(t.companyId, t.yearId, t.periodNo),
    index().on(t.companyId, t.postedAt),
    index()
      .on(t.originId)
      .where(sql`origin_id is not null`),
    index()
      .on(t.companyId, t.reverseOn)
      .where(sql`reverse_on is not null`),
    foreignKey({ columns: [t.yearId, t.periodNo], foreignColumns: [period.yearId, period.no] }),
    foreignKey({ columns: [t.reversesId], foreignColumns: [t.id] }),
  ],
);

/**
 * Lines repeat what reports filter by, so that none has to join a million journals.
 * That journal, account and coding exist is checked once per statement by a trigger: three foreign
 * keys would ask for each line.
 */
export const journalLine = pgTable(
  "journal_line",
  {
    journalId: bigint({ mode: "number" }).notNull(),
    lineNo: integer().notNull(),
    companyId: integer().notNull(),
    seq: units().notNull(),
    bookId: smallint().notNull(),
    yearId: integer().notNull(),
    periodNo: smallint().notNull(),
    closing: boolean().notNull(),
    date: date().notNull(),
    accountId: integer().notNull(),
    codingId: integer().notNull(),
    side: char({ length: 1 }).notNull(),
    /** Functional minor units; negative where a reversal is made by negative amounts. */
    amount: units().notNull(),
    currency: char({ length: 3 }).notNull(),
    foreignAmount: units().notNull(),
    partner: text(),
    dueDate: date(),
    description: text().notNull(),
    /** Functional units for one of the currency, where that is foreign. */
    rate: numeric(),
    /** The company of the group that the line concerns. */
    counterpartyId: integer(),
    /** In thousandths. */
    quantity: units(),
    note: text(),
  },
  (t) => [
    primaryKey({ columns: [t.journalId, t.lineNo] }),
    index().on(t.companyId, t.accountId, t.yearId, t.periodNo),
    index().on(t.companyId, t.seq),
    index()
      .on(t.counterpartyId)
      .where(sql`counterparty_id is not null`),
    check("line_side", sql`${t.side} in ('D', 'C')`),
    check("line_amount", sql`${t.amount} <> 0 or ${t.foreignAmount} <> 0`),
  ],
);

const balanceKey = () => ({
  companyId: integer().notNull(),
  bookId: smallint().notNull(),
  yearId: integer().notNull(),
  periodNo: smallint().notNull(),
  closing: boolean().notNull(),
  accountId: integer().notNull(),
});

/** Turnover by side of an account; period 0 is what the year opens with, net, as a debit. */
export const accountBalance = pgTable(
  "account_balance",
  { ...balanceKey(), debit: units().notNull(), credit: units().notNull() },
  (t) => [
    primaryKey({ columns: [t.companyId, t.bookId, t.yearId, t.periodNo, t.closing, t.accountId] }),
  ],
);

/**
 * Turnover by coding and currency, without openings: what a coding opens with is asked rarely, and
 * summed then.
 */
export const codingBalance = pgTable(
  "coding_balance",
  {
    ...balanceKey(),
    codingId: integer().notNull(),
    currency: char({ length: 3 }).notNull(),
    /** The company of the group that the lines concern; 0 for none. */
    counterpartyId: integer().notNull().default(0),
    debit: units().notNull(),
    credit: units().notNull(),
    foreignDebit: units().notNull(),
    foreignCredit: units().notNull(),
  },
  (t) => [
    primaryKey({
      columns: [
        t.companyId,
        t.bookId,
        t.yearId,
        t.periodNo,
        t.closing,
        t.accountId,
        t.codingId,
        t.currency,
        t.counterpartyId,
      ],
    }),
  ],
);

/** Two companies that trade inside the group, and the accounts of each side. */
export const companyPair = pgTable(
  "company_pair",
  {
    id: integer().primaryKey().generatedByDefaultAsIdentity(),
    firstId: integer()
      .notNull()
      .references(() => company.id),
    secondId: integer()
      .notNull()
      .references(() => company.id),
    firstDueFrom: text().notNull(),
    firstDueTo: text().notNull(),
    secondDueFrom: text().notNull(),
    secondDueTo: text().notNull(),
    type: text().notNull(),
  },
  (t) => [
    unique().on(t.firstId, t.secondId),
    check("pair_order", sql`${t.firstId} < ${t.secondId}`),
  ],
);

/** One unit of the base costs this much of the quote. */
/** For how many days a spot rate of a pair may be used, where that is not the common limit. */
export const rateLimit = pgTable(
  "rate_limit",
  {
    base: char({ length: 3 }).notNull(),
    quote: char({ length: 3 }).notNull(),
    days: integer().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.base, t.quote] }),
    check("rate_limit_days", sql`${t.days} between 0 and 3660`),
  ],
);

export const rate = pgTable(
  "rate",
  {
    kind: text().notNull(),
    base: char({ length: 3 }).notNull(),
    quote: char({ length: 3 }).notNull(),
    date: date().notNull(),
    rate: numeric().notNull(),
    source: text().notNull().default(""),
    savedBy: integer(),
    savedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.kind, t.base, t.quote, t.date] }),
    check("rate_kind", sql`${t.kind} in ('spot', 'average', 'closing')`),
    check("rate_positive", sql`${t.rate} > 0`),
  ],
);

/**
 * A year end that stands: results that still arrive in its year and book are carried on from here.
 */
export const yearEnd = pgTable(
  "year_end",
  {
    companyId: integer().notNull(),
    yearId: integer()
      .notNull()
      .references(() => fiscalYear.id),
    bookId: smallint()
      .notNull()
      .references(() => book.id),
    runId: bigint({ mode: "number" }).notNull(),
    retainedEarnings: text().notNull(),
    byDimension: boolean().notNull(),
  },
  (t) => [primaryKey({ columns: [t.companyId, t.yearId, t.bookId] })],
);
