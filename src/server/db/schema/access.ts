import {
  bigint,
  boolean,
  date,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  unique,
} from "drizzle-orm/pg-core";
import { ROLES } from "../../../core/access";
import { oneOf } from "./oneOf";
import { company } from "./organisation";

export const person = pgTable("person", {
  id: integer().primaryKey().generatedByDefaultAsIdentity(),
  login: text().notNull().unique(),
  name: text().notNull(),
  initials: text().notNull(),
  passwordHash: text().notNull(),
  active: boolean().notNull().default(true),
  failedAttempts: smallint().notNull().default(0),
  lockedUntil: timestamp({ withTimezone: true }),
});

export const personRole = pgTable(
  "person_role",
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    role: text({ enum: ROLES }).notNull(),
    companyId: integer().references(() => company.id),
  },
  (t) => [
    oneOf("person_role_role", t.role, ROLES),
    unique().on(t.personId, t.role, t.companyId).nullsNotDistinct(),
  ],
);

/**
 * A sign-in from a browser (kind screen) or a program (kind token). Only a hash of the secret is
 * kept.
 */
export const session = pgTable(
  "session",
  {
    hash: text().primaryKey(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    kind: text().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    lastSeen: timestamp({ withTimezone: true }).notNull().defaultNow(),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
    /** From which address it was made. */
    address: text().notNull().default(""),
  },
  (t) => [index().on(t.personId)],
);

export const preference = pgTable(
  "preference",
  {
    personId: integer()
      .notNull()
      .references(() => person.id),
    key: text().notNull(),
    value: jsonb().notNull(),
  },
  (t) => [primaryKey({ columns: [t.personId, t.key] })],
);

/** The answer given to a request that carried an Idempotency-Key, given again to its repeat. */
export const idempotency = pgTable(
  "idempotency",
  {
    personId: integer()
      .notNull()
      .references(() => person.id),
    key: text().notNull(),
    requestHash: text().notNull(),
    status: smallint().notNull(),
    body: jsonb().notNull(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.personId, t.key] })],
);

/** Who did what and when, with the record before and after. Only ever added to. */
export const auditEvent = pgTable(
  "audit_event",
  {
    id: bigint({ mode: "number" }).primaryKey().generatedAlwaysAsIdentity(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
    personId: integer(),
    action: text().notNull(),
    kind: text().notNull(),
    recordId: text().notNull(),
    label: text().notNull().default(""),
    companyId: integer(),
    before: jsonb(),
    after: jsonb(),
  },
  (t) => [index().on(t.kind, t.recordId), index().on(t.at)],
);

/** Who decides for whom while somebody is away. */
export const standIn = pgTable("stand_in", {
  personId: integer()
    .primaryKey()
    .references(() => person.id),
  standInId: integer()
    .notNull()
    .references(() => person.id),
  fromDate: date().notNull(),
  toDate: date().notNull(),
});

/** The second factor of a person: a secret shared with their authenticator (TOTP, RFC 6238). */
export const secondFactor = pgTable("second_factor", {
  personId: integer()
    .primaryKey()
    .references(() => person.id),
  /** In base 32. */
  secret: text().notNull(),
  /** When its first code was given; before that it counts for nothing. */
  confirmedAt: timestamp({ withTimezone: true }),
  /** The last step of time whose code was used: none is good twice. */
  lastStep: bigint({ mode: "number" }).notNull().default(0),
});

/** Codes for whoever has lost the authenticator; each is good once. Only hashes are kept. */
export const recoveryCode = pgTable(
  "recovery_code",
  {
    personId: integer()
      .notNull()
      .references(() => person.id),
    hash: text().notNull(),
    usedAt: timestamp({ withTimezone: true }),
  },
  (t) => [primaryKey({ columns: [t.personId, t.hash] })],
);
