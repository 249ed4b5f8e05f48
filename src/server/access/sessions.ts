import { randomBytes } from "node:crypto";
import { hash, verify } from "@node-rs/argon2";
import { sql, type SQL } from "drizzle-orm";
import { IDLE_MINUTES, LOCK_AFTER, LOCK_MINUTES, type Grant } from "@/core/access";
import { fail, ok, type Result } from "@/core/shared";
import { rows, sha256, type Database, type Db } from "../db";
import { BoundedMap } from "./boundedMap";
import { hasSecondFactor, needsSecondFactor } from "./demandedFactor";
import { takeCode } from "./factorCodes";
import { writeAudit, type Person } from "./useCase";

/**
 * Hashes a password with Argon2id at the strength that OWASP's password storage guide gives as its
 * minimum.
 */
export const hashPassword = (password: string): Promise<string> =>
  hash(password, { memoryCost: 19456, timeCost: 2, parallelism: 1 });

const SCREEN_HOURS = 12;
const TOKEN_HOURS = 24 * 30;
/** Compared against where there is no such person, so that the answer takes as long. */
let decoy: Promise<string> | undefined;

/** Attempts at names that nobody has. */
const nobodies = new BoundedMap<{ failed: number; until: number }>(20_000);

/** Counts an attempt at a name that nobody has, as those at others are counted. */
function attemptsOfNobody(login: string, now: Date): "locked" | "free" {
  const key = sha256(login.trim().toLowerCase());
  const entry = nobodies.get(key) ?? { failed: 0, until: 0 };
  if (entry.until > now.getTime()) return "locked";
  const failed = (entry.failed + 1) % LOCK_AFTER;
  nobodies.set(key, {
    failed,
    until: failed === 0 ? now.getTime() + LOCK_MINUTES * 60_000 : entry.until,
  });
  return "free";
}

/**
 * Signs a person in. Gives a secret to carry; only its hash is kept. `code` is that of the second
 * factor, for whoever has one. Errors: SIGN_IN_FAILED, SIGN_IN_LOCKED, SECOND_FACTOR_NEEDED,
 * SECOND_FACTOR_WRONG.
 */
export async function signIn(
  database: Database,
  login: string,
  password: string,
  kind: "screen" | "token",
  now = new Date(),
  address = "",
  code = "",
): Promise<Result<{ secret: string; expiresAt: Date }>> {
  const { db } = database;
  const [person] = await rows<{
    id: number;
    passwordHash: string;
    active: boolean;
    locked: boolean;
    secondFactor: boolean;
  }>(
    db,
    sql`select id, password_hash as "passwordHash", active,
      ${hasSecondFactor(sql`person.id`)} as "secondFactor",
      coalesce(locked_until > ${now.toISOString()}, false) as locked from person
      where login = ${login.trim().toLowerCase().slice(0, 100)}`,
  );
  // Names that nobody has are locked as others are, and all answers take as long: none of them
  // tells which names there are.
  const stranger = person ? null : attemptsOfNobody(login, now);
  const matches = await verify(
    person?.passwordHash ?? (await (decoy ??= hashPassword("nobody has this password"))),
    password.slice(0, 200),
  ).catch(() => false);
  if (person?.locked || stranger === "locked")
    return fail({ code: "SIGN_IN_LOCKED", minutes: LOCK_MINUTES, field: "password" });
  if (!person || !person.active || !matches) {
    if (person) await noteFailure(db, person.id, login, now);
    return fail({ code: "SIGN_IN_FAILED", field: "password" });
  }
  if (person.secondFactor) {
    // Said only to who knows the password, and no failure yet.
    if (code.trim() === "") return fail({ code: "SECOND_FACTOR_NEEDED", field: "code" });
    if (!(await takeCode(db, person.id, code, now))) {
      await noteFailure(db, person.id, login, now);
      return fail({ code: "SECOND_FACTOR_WRONG", field: "code" });
    }
  }
  const secret = randomBytes(32).toString("base64url");
  const expiresAt = new Date(
    now.getTime() + (kind === "screen" ? SCREEN_HOURS : TOKEN_HOURS) * 3_600_000,
  );
  await db.transaction(async (tx) => {
    await tx.execute(sql`delete from session where expires_at < ${now.toISOString()}`);
    await tx.execute(
      sql`insert into session (hash, person_id, kind, created_at, last_seen, expires_at, address)
        values (${sha256(secret)}, ${person.id}, ${kind}, ${now.toISOString()},
        ${now.toISOString()}, ${expiresAt.toISOString()}, ${address.slice(0, 100)})`,
    );
    await tx.execute(
      sql`update person set failed_attempts = 0, locked_until = null where id = ${person.id}`,
    );
    await writeAudit(tx as unknown as Db, person.id, now, {
      action: kind === "screen" ? "signed in" : "token made",
      kind: "person",
      recordId: person.id,
      label: login,
      after: { address },
    });
  });
  return ok({ secret, expiresAt });
}

/**
 * Whether a password is a person's own. A wrong one counts like one at signing in, so that nobody
 * tries them out at a screen that was left open. Errors: SIGN_IN_FAILED, SIGN_IN_LOCKED.
 */
export async function confirmPassword(
  { db }: Database,
  personId: number,
  password: string,
  now = new Date(),
): Promise<Result<unknown>> {
  const [row] = await rows<{ hash: string; locked: boolean }>(
    db,
    sql`select password_hash as hash, coalesce(locked_until > ${now.toISOString()}, false) as locked
      from person where id = ${personId}`,
  );
  const matches = await verify(row!.hash, password.slice(0, 200)).catch(() => false);
  if (row!.locked) return fail({ code: "SIGN_IN_LOCKED", minutes: LOCK_MINUTES, field: "current" });
  if (matches) return ok({});
  await countFailure(db, personId, now);
  return fail({ code: "SIGN_IN_FAILED", field: "current" });
}

/** The same of a code of the second factor. Errors: SECOND_FACTOR_WRONG, SIGN_IN_LOCKED. */
export async function confirmCode(
  { db }: Database,
  personId: number,
  code: string,
  now = new Date(),
): Promise<Result<unknown>> {
  const [row] = await rows<{ locked: boolean }>(
    db,
    sql`select coalesce(locked_until > ${now.toISOString()}, false) as locked
      from person where id = ${personId}`,
  );
  if (row!.locked) return fail({ code: "SIGN_IN_LOCKED", minutes: LOCK_MINUTES, field: "code" });
  if (await takeCode(db, personId, code, now)) return ok({});
  await countFailure(db, personId, now);
  return fail({ code: "SECOND_FACTOR_WRONG", field: "code" });
}

async function noteFailure(db: Db, personId: number, login: string, now: Date): Promise<void> {
  await countFailure(db, personId, now);
  await writeAudit(db, personId, now, {
    action: "sign-in failed",
    kind: "person",
    recordId: personId,
    label: login,
  });
}

/** One more failed attempt; after enough of them the name is locked for a while. */
async function countFailure(db: Db, personId: number, now: Date): Promise<void> {
  const locked = new Date(now.getTime() + LOCK_MINUTES * 60_000).toISOString();
  await db.execute(
    sql`update person set failed_attempts = (failed_attempts + 1) % ${LOCK_AFTER}::int,
      locked_until = case
      when failed_attempts + 1 >= ${LOCK_AFTER}::int then ${locked}::timestamptz
      else locked_until end where id = ${personId}`,
  );
}

/**
 * The person behind a secret, or null: unknown, expired, left alone for too long, or no longer
 * active. That it was used is noted once a minute; what a page asks by itself (`byItself`) is no use
 * of it, so that a page that is left open does not keep anybody signed in.
 */
export async function personOf(
  database: Database,
  secret: string | undefined,
  kind: "screen" | "token",
  { byItself = false } = {},
): Promise<Person | null> {
  if (!secret) return null;
  const session = sha256(secret);
  const [found] = await rows<
    Omit<Person, "grants"> & {
      grants: Grant[] | null;
      seen: boolean;
      session: string;
      lacksSecondFactor: boolean;
    }
  >(
    database.db,
    sql`select p.id, p.login, p.name, p.initials, s.hash as session,
          s.last_seen > now() - interval '1 minute' as seen,
          ${needsSecondFactor(sql`p.id`)} and not ${hasSecondFactor(sql`p.id`)}
            as "lacksSecondFactor",
          (select jsonb_agg(jsonb_build_object('role', r.role, 'company', c.code))
            from person_role r left join company c on c.id = r.company_id
            where r.person_id = p.id) as grants
        from session s join person p on p.id = s.person_id
        where s.hash = ${session} and s.kind = ${kind} and s.expires_at > now() and p.active
          and (s.kind = 'token'
            or s.last_seen > now() - make_interval(mins => ${IDLE_MINUTES}))`,
  );
  if (!found) return null;
  const { seen, grants, ...person } = found;
  if (!seen && !byItself)
    await database.db.execute(sql`update session set last_seen = now() where hash = ${session}`);
  return { ...person, grants: person.lacksSecondFactor ? [] : (grants ?? []) };
}

export async function signOut(database: Database, secret: string | undefined): Promise<void> {
  if (secret) await database.db.execute(sql`delete from session where hash = ${sha256(secret)}`);
}

export const findPerson = (database: Database, login: string): Promise<Person | null> =>
  personWhere(database, sql`p.login = ${login}`);

/** Somebody for whom something is done by and by, with the rights of now; none who has left. */
export const actingPerson = (database: Database, id: number): Promise<Person | null> =>
  personWhere(database, sql`p.id = ${id} and p.active`);

async function personWhere(database: Database, where: SQL): Promise<Person | null> {
  const [found] = await rows<Omit<Person, "grants"> & { grants: Grant[] | null }>(
    database.db,
    sql`select p.id, p.login, p.name, p.initials,
          (select jsonb_agg(jsonb_build_object('role', r.role, 'company', c.code))
            from person_role r left join company c on c.id = r.company_id
            where r.person_id = p.id) as grants
        from person p where ${where}`,
  );
  return found ? { ...found, grants: found.grants ?? [] } : null;
}
