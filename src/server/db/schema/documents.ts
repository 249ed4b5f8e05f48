import { sql } from "drizzle-orm";
import {
  bigint,
  boolean,
  char,
  check,
  customType,
  date,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
} from "drizzle-orm/pg-core";
import { DOCUMENT_KINDS, DOCUMENT_STATUSES, REMARK_KINDS } from "../../../core/documents";
import { oneOf } from "./oneOf";
import { company } from "./organisation";
import { partner } from "./partners";

/** A reason for taking something back, and where it is offered: one list for all areas. */
export const reason = pgTable("reason", {
  id: integer().primaryKey().generatedByDefaultAsIdentity(),
  text: text().notNull().unique(),
  places: text().array().notNull(),
  blocked: boolean().notNull().default(false),
  version: integer().notNull().default(1),
});

/**
 * The one register of everything that is a business document: a draft and the posted journal share
 * their row.
 */
export const document = pgTable(
  "document",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedByDefaultAsIdentity(),
    kind: text().notNull(),
    type: text().notNull().default(""),
    number: text(),
    companyId: integer().references(() => company.id),
    date: date(),
    amount: bigint({ mode: "bigint" }),
    currency: char({ length: 3 }),
    status: text().notNull(),
    title: text().notNull().default(""),
    /** Lower case text that Find looks in. */
    search: text().notNull().default(""),
    /** Whom it is with: a supplier, a customer. */
    partnerId: integer().references(() => partner.id),
    /** When it is to be paid, or come, as it was written; what is left of it, its items say. */
    due: date(),
    createdBy: integer().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    index().on(t.companyId, t.kind, t.date, t.id),
    /** The order of lists: what is not final yet, then the newest. */
    index("document_list").on(
      t.companyId,
      t.kind,
      sql`(number is null)`,
      sql`coalesce(date, date 'infinity')`,
      t.id,
    ),
    index().on(t.kind, t.status, t.createdBy),
    /** What waits for somebody is little, and counted on every page. */
    index("document_waiting")
      .on(t.companyId, t.kind)
      .where(sql`status in ('waiting', 'held', 'preview')`),
    unique().on(t.kind, t.number),
    index()
      .on(t.partnerId, t.date)
      .where(sql`partner_id is not null`),
    index("document_search").using("gin", t.search.op("gin_trgm_ops")),
    oneOf("document_kind", t.kind, Object.keys(DOCUMENT_KINDS)),
    oneOf("document_status", t.status, DOCUMENT_STATUSES),
  ],
);

export const documentLink = pgTable(
  "document_link",
  {
    fromId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id, { onDelete: "cascade" }),
    toId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id, { onDelete: "cascade" }),
    kind: text().notNull(),
  },
  (t) => [primaryKey({ columns: [t.fromId, t.toId, t.kind] }), index().on(t.toId)],
);

/**
 * Who has written any of what a document says. Kept by the database at each change of content, so
 * that no way of writing forgets it: whoever has written may not decide on it.
 */
export const documentWriter = pgTable(
  "document_writer",
  {
    documentId: bigint({ mode: "number" })
      .notNull()
      .references(() => document.id, { onDelete: "cascade" }),
    personId: integer().notNull(),
  },
  (t) => [primaryKey({ columns: [t.documentId, t.personId] })],
);

const bytes = customType<{ data: Uint8Array }>({ dataType: () => "bytea" });

/** A paper of a document: kept in the database, so that a backup holds it. */
export const attachment = pgTable(
  "attachment",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    documentId: bigint({ mode: "number" }).references(() => document.id, { onDelete: "cascade" }),
    /** What was said with a customer, that it came with. */
    remarkId: integer().references(() => remark.id),
    name: text().notNull(),
    type: text().notNull(),
    size: integer().notNull(),
    content: bytes().notNull(),
    /** What was read in it that has no field of its own, as sentences. */
    says: jsonb().$type<string[]>().notNull().default([]),
    addedBy: integer().notNull(),
    addedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    index().on(t.documentId),
    index()
      .on(t.remarkId)
      .where(sql`remark_id is not null`),
    check("attachment_subject", sql`num_nonnulls(${t.documentId}, ${t.remarkId}) = 1`),
  ],
);

/**
 * What somebody has said about a document, a line of a bank's statement or a customer, and whom they
 * called.
 */
export const remark = pgTable(
  "remark",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    documentId: bigint({ mode: "number" }).references(() => document.id, { onDelete: "cascade" }),
    /** It stays where the line goes, with a file that is taken back. */
    statementLineId: bigint({ mode: "number" }),
    /** About a customer or supplier, in a company's dealings with it. */
    partnerId: integer().references(() => partner.id),
    companyId: integer().references(() => company.id),
    kind: text({ enum: REMARK_KINDS }).notNull().default("note"),
    /** What is to be done next, and when. */
    nextStep: text().notNull().default(""),
    nextOn: date(),
    personId: integer().notNull(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
    text: text().notNull(),
    mentions: integer().array().notNull(),
  },
  (t) => [
    index().on(t.documentId),
    index().on(t.statementLineId),
    index()
      .on(t.companyId, t.partnerId)
      .where(sql`partner_id is not null`),
    check(
      "remark_subject",
      sql`num_nonnulls(${t.documentId}, ${t.statementLineId}, ${t.partnerId}) = 1
        and (${t.partnerId} is null) = (${t.companyId} is null)`,
    ),
    oneOf("remark_kind", t.kind, REMARK_KINDS),
  ],
);
