import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { ROLES, type Role } from "@/core/access";
import { fail, ok, type Result } from "@/core/shared";
import { readSetting, rows, writeSetting, type Db } from "../db";
import { DEMANDED_ROLES, hasSecondFactor, needsSecondFactor } from "./demandedFactor";
import { addressOf, newRecoveryCodes, newSecret, recoveryHash, takeCode } from "./factorCodes";
import { grantsOf } from "./people";
import { confirmCode } from "./sessions";
import { defineUseCase } from "./useCase";

export interface FactorView {
  confirmed: boolean;
  /** Whether one of the person's roles demands it. */
  demanded: boolean;
  recoveryCodesLeft: number;
}

/** Whether a person has a second factor, and whether they must. */
export const mySecondFactor = defineUseCase({
  name: "mySecondFactor",
  kind: "read",
  rights: "signed-in",
  what: "see your second factor",
  of: "self",
  schema: object(),
  run: async ({ tx, person }): Promise<Result<FactorView>> => {
    const [view] = await rows<FactorView>(
      tx,
      sql`select ${hasSecondFactor(sql`${person.id}`)} as confirmed,
        ${needsSecondFactor(sql`${person.id}`)} as demanded,
        (select count(*)::int from recovery_code
          where person_id = ${person.id} and used_at is null) as "recoveryCodesLeft"`,
    );
    return ok(view!);
  },
});

/** Begins a second factor: a secret for the authenticator, which counts once its code was given. */
export const startSecondFactor = defineUseCase({
  name: "startSecondFactor",
  kind: "write",
  rights: "signed-in",
  what: "set up a second factor",
  of: "self",
  schema: object(),
  run: async ({ tx, person }): Promise<Result<{ secret: string; address: string }>> => {
    const secret = newSecret();
    const set = await rows(
      tx,
      sql`insert into second_factor (person_id, secret) values (${person.id}, ${secret})
        on conflict (person_id) do update set secret = excluded.secret, last_step = 0
        where second_factor.confirmed_at is null returning person_id`,
    );
    if (set.length === 0)
      return fail({ code: "INVALID", what: "There is a second factor already; remove it first" });
    return ok({ secret, address: addressOf(secret, person.login) });
  },
});

/** The first code proves that the authenticator has the secret; recovery codes are shown once. */
export const confirmSecondFactor = defineUseCase({
  name: "confirmSecondFactor",
  kind: "write",
  rights: "signed-in",
  what: "set up a second factor",
  of: "self",
  schema: object({ code: string().required("The code is needed").max(40) }),
  run: async (
    { tx, person, now, instant, audit },
    { code },
  ): Promise<Result<{ codes: string[] }>> => {
    if (!(await takeCode(tx, person.id, code, instant)))
      return fail({ code: "SECOND_FACTOR_WRONG", field: "code" });
    const confirmed = await rows(
      tx,
      sql`update second_factor set confirmed_at = ${now.toISOString()}
        where person_id = ${person.id} and confirmed_at is null returning person_id`,
    );
    if (confirmed.length === 0) return fail({ code: "SECOND_FACTOR_WRONG", field: "code" });
    const codes = newRecoveryCodes();
    await tx.execute(sql`delete from recovery_code where person_id = ${person.id}`);
    for (const recovery of codes)
      await tx.execute(
        sql`insert into recovery_code (person_id, hash)
          values (${person.id}, ${recoveryHash(recovery)})`,
      );
    // What was opened with the password alone ends, but for the screen that asks.
    await tx.execute(
      sql`delete from session where person_id = ${person.id} and hash <> ${person.session ?? ""}`,
    );
    await audit({
      action: "second factor set up",
      kind: "person",
      recordId: person.id,
      label: person.login,
    });
    return ok({ codes });
  },
});

const removeFactor = async (tx: Db, personId: number): Promise<boolean> => {
  await tx.execute(sql`delete from recovery_code where person_id = ${personId}`);
  const gone = await rows(
    tx,
    sql`delete from second_factor where person_id = ${personId} returning person_id`,
  );
  return gone.length > 0;
};

/** Takes one's own second factor away, with a code of it. */
export const removeSecondFactor = defineUseCase({
  name: "removeSecondFactor",
  kind: "write",
  rights: "signed-in",
  what: "remove your second factor",
  of: "self",
  schema: object({ code: string().required("The code is needed").max(40) }),
  prepare: ({ code }, { database, person, now }) => confirmCode(database, person.id, code, now?.()),
  run: async ({ tx, person, audit }) => {
    if (!(await removeFactor(tx, person.id)))
      return fail({ code: "NOT_FOUND", what: "second factor" });
    await audit({
      action: "second factor removed",
      kind: "person",
      recordId: person.id,
      label: person.login,
    });
    return ok({});
  },
});

/** For somebody who has lost the authenticator and the recovery codes: they set one up anew. */
export const resetSecondFactor = defineUseCase({
  name: "resetSecondFactor",
  kind: "write",
  rights: ["setup.people"],
  what: "reset a second factor",
  of: async ({ tx }, input) => (await grantsOf(tx, input.id)).map((g) => g.company),
  schema: object({ id: number().integer().required() }),
  run: async ({ tx, audit }, { id }) => {
    const [person] = await rows<{ login: string }>(
      tx,
      sql`select login from person where id = ${id}`,
    );
    if (!person || !(await removeFactor(tx, id)))
      return fail({ code: "NOT_FOUND", what: "second factor" });
    await tx.execute(sql`delete from session where person_id = ${id}`);
    await audit({
      action: "second factor reset",
      kind: "person",
      recordId: id,
      label: person.login,
    });
    return ok({});
  },
});

const readRoles = async (tx: Db): Promise<Role[]> =>
  (await readSetting<Role[]>(tx, DEMANDED_ROLES)) ?? [];

/** The roles from which a second factor is demanded. */
export const secondFactorRoles = defineUseCase({
  name: "secondFactorRoles",
  kind: "read",
  rights: ["read.setup", "setup.people"],
  what: "see from whom a second factor is demanded",
  of: "shared",
  schema: object(),
  run: async ({ tx }): Promise<Result<Role[]>> => ok(await readRoles(tx)),
});

/** Demands a second factor of roles: who has none sets one up before doing anything else. */
export const demandSecondFactor = defineUseCase({
  name: "demandSecondFactor",
  kind: "write",
  rights: ["setup.people"],
  what: "demand a second factor",
  of: "group",
  schema: object({ roles: array(string().oneOf(ROLES).required()).required().max(ROLES.length) }),
  run: async ({ tx, audit }, { roles }) => {
    const before = await readRoles(tx);
    await writeSetting(tx, DEMANDED_ROLES, roles);
    await audit({
      action: "changed",
      kind: "second factor",
      recordId: "roles",
      label: roles.join(", ") || "of nobody",
      before: { roles: before },
      after: { roles },
    });
    return ok({});
  },
});
