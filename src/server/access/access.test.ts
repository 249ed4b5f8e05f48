import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { isCommonPassword, LOCK_AFTER, may, ROLES } from "@/core/access";
import { callerOf, must, PASSWORD, written } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { rows, sha256 } from "../db";
import "../documents";
import "../files";
import "../rates";
import "../search";
import "../statements";
import "../trace";
import { createJournal } from "../ledger";
import {
  changePassword,
  endSession,
  listSessions,
  signInsFromNewPlaces,
  findPerson,
  personOf,
  savePerson,
  signIn,
  signOut,
  useCases,
} from "./index";

const w = world();
const forbidden = (result: { ok: boolean; problems?: readonly { code: string }[] }) =>
  !result.ok && result.problems!.some((p) => p.code === "FORBIDDEN");

describe("rights", () => {
  test("every use case refuses a stranger, and every role that lacks its rights, before it looks at the input", async () => {
    expect(useCases().size).toBeGreaterThan(35);
    for (const [name, call] of useCases()) {
      expect([name, forbidden(await call({ database: w.database, person: null }, {}))]).toEqual([
        name,
        true,
      ]);
      const { rights } = call.definition;
      if (rights === "signed-in") continue;
      for (const role of ROLES) {
        const caller = await callerOf(w.database, role);
        const holds = rights.some((r) => may(caller.person.grants, r));
        if (!holds)
          expect([name, role, forbidden(await call(caller, {}))]).toEqual([name, role, true]);
      }
    }
  });

  test.each([
    ["accountant", "post.ledger", true],
    ["accountant", "period.ledger", false],
    ["accountant", "setup.organisation", false],
    ["payables", "post.ledger", false],
    ["payables", "post.payables", true],
    ["payables", "period.payables", true],
    ["budget", "read.ledger", false],
    ["controller", "period.ledger", true],
    ["controller", "setup.people", false],
    ["auditor", "read.history", true],
    ["auditor", "prepare.ledger", false],
    ["admin", "setup.people", true],
    ["admin", "read.ledger", false],
  ] as const)("%s and %s: %s", (role, right, expected) =>
    expect(may([{ role, company: null }], right)).toBe(expected),
  );

  test("a role for one company is no right in another", async () => {
    const admin = await callerOf(w.database, "admin");
    must(
      await savePerson(admin, {
        login: "bet-only",
        name: "Bet Only",
        password: PASSWORD,
        grants: [{ role: "accountant", company: "BET" }],
      }),
    );
    const person = await findPerson(w.database, "bet-only");
    const caller = { database: w.database, person };
    expect(forbidden(await createJournal(caller, { ...written(), post: true }))).toBe(true);
    must(await createJournal(caller, { ...written({ company: "BET" }), post: true }));
  });

  test("the last administrator stays", async () => {
    const admin = await callerOf(w.database, "admin");
    const root = await findPerson(w.database, "root");
    const self = { id: admin.person.id, login: "admin", name: "Person admin" };
    must(
      await savePerson(admin, {
        id: root!.id,
        login: "root",
        name: "Root Builder",
        grants: [{ role: "controller", company: null }],
      }),
    );
    expect(
      await savePerson(admin, { ...self, grants: [{ role: "auditor", company: null }] }),
    ).toMatchObject({ ok: false, problems: [{ code: "LAST_ADMINISTRATOR" }] });
    expect(
      await savePerson(admin, {
        ...self,
        active: false,
        grants: [{ role: "admin", company: null }],
      }),
    ).toMatchObject({ ok: false, problems: [{ code: "LAST_ADMINISTRATOR" }] });
    must(
      await savePerson(admin, {
        id: root!.id,
        login: "root",
        name: "Root Builder",
        grants: [
          { role: "controller", company: null },
          { role: "admin", company: null },
        ],
      }),
    );
  });
});

describe("signing in", () => {
  test("gives a secret of which only a hash is kept; signing out ends it; a token is no session", async () => {
    const session = must(await signIn(w.database, "accountant", PASSWORD, "screen"));
    expect((await personOf(w.database, session.secret, "screen"))?.login).toBe("accountant");
    expect(await personOf(w.database, session.secret, "token")).toBeNull();
    const kept = await rows<{ hash: string }>(w.database.db, sql`select hash from session`);
    expect(kept.some((k) => k.hash === session.secret)).toBe(false);
    await signOut(w.database, session.secret);
    expect(await personOf(w.database, session.secret, "screen")).toBeNull();
    expect(await personOf(w.database, undefined, "screen")).toBeNull();
  });
  test("repeated failures lock the name, also for the right password, until the time is over", async () => {
    const now = new Date("2026-11-05T08:00:00Z");
    for (let i = 0; i < LOCK_AFTER; i++)
      expect(await signIn(w.database, "treasury", "wrong", "screen", now)).toMatchObject({
        ok: false,
        problems: [{ code: "SIGN_IN_FAILED" }],
      });
    expect(await signIn(w.database, "treasury", PASSWORD, "screen", now)).toMatchObject({
      ok: false,
      problems: [{ code: "SIGN_IN_LOCKED" }],
    });
    expect(
      (await signIn(w.database, "treasury", PASSWORD, "screen", new Date("2026-11-05T08:11:00Z")))
        .ok,
    ).toBe(true);
    expect(await signIn(w.database, "nobody", PASSWORD, "screen", now)).toMatchObject({
      ok: false,
      problems: [{ code: "SIGN_IN_FAILED" }],
    });
  });
  test("a password is long, is not the name, and is changed only by who knows it; changing it ends tokens", async () => {
    const assets = await callerOf(w.database, "assets");
    const token = must(await signIn(w.database, "assets", PASSWORD, "token"));
    const change = (current: string, password: string) =>
      changePassword(assets, { current, password });
    expect(await change("wrong", "a much longer password")).toMatchObject({
      ok: false,
      problems: [{ code: "SIGN_IN_FAILED" }],
    });
    expect(await change(PASSWORD, "short")).toMatchObject({
      ok: false,
      problems: [{ code: "PASSWORD_LENGTH" }],
    });
    expect(await change(PASSWORD, "the assets of all")).toMatchObject({
      ok: false,
      problems: [{ code: "PASSWORD_NAME" }],
    });
    must(await change(PASSWORD, "nine terns over kestle"));
    expect(await personOf(w.database, token.secret, "token")).toBeNull();
    expect((await signIn(w.database, "assets", PASSWORD, "screen")).ok).toBe(false);
  });
});

describe("sign-ins", () => {
  beforeAll(async () => {
    must(
      await savePerson(await callerOf(w.database, "admin"), {
        login: "tern",
        name: "Tern",
        password: PASSWORD,
        grants: [{ role: "assets", company: null }],
      }),
    );
  });
  const signedIn = async (kind: "screen" | "token" = "screen", address = "10.0.0.1") => {
    const at = new Date();
    const { secret } = must(await signIn(w.database, "tern", PASSWORD, kind, at, address));
    return secret;
  };
  const who = (secret: string, kind: "screen" | "token" = "screen") =>
    personOf(w.database, secret, kind);
  test("a changed password ends every other one; a wrong password now is counted until the name is locked", async () => {
    const [here, there, program] = [await signedIn(), await signedIn(), await signedIn("token")];
    const caller = { database: w.database, person: await who(here) };
    const next = "seven gulls over innish";
    for (let i = 0; i < LOCK_AFTER; i++)
      expect(
        await changePassword(caller, { current: "a wrong guess of it", password: next }),
      ).toMatchObject({ ok: false, problems: [{ code: "SIGN_IN_FAILED" }] });
    expect(await changePassword(caller, { current: PASSWORD, password: next })).toMatchObject({
      ok: false,
      problems: [{ code: "SIGN_IN_LOCKED" }],
    });
    await w.database.db.execute(sql`update person set locked_until = null, failed_attempts = 0`);
    must(await changePassword(caller, { current: PASSWORD, password: next }));
    expect([(await who(here))?.login, await who(there), await who(program, "token")]).toEqual([
      "tern",
      null,
      null,
    ]);
    must(await changePassword(caller, { current: next, password: PASSWORD }));
  });
  test("one that is left alone ends; own ones are listed and ended, and nobody else's", async () => {
    const [here, there] = [await signedIn(), await signedIn("screen", "10.9.9.9")];
    const caller = { database: w.database, person: await who(here) };
    const listed = must(await listSessions(caller)) as {
      id: string;
      own: boolean;
      address: string;
    }[];
    expect(listed.filter((s) => s.own)).toHaveLength(1);
    const other = listed.find((s) => s.address === "10.9.9.9")!;
    const stranger = await callerOf(w.database, "treasury");
    expect(await endSession(stranger, { id: other.id })).toMatchObject({ ok: false });
    must(await endSession(caller, { id: other.id }));
    expect(await who(there)).toBeNull();
    expect(must(await signInsFromNewPlaces(caller))).toMatchObject([{ address: "10.9.9.9" }]);
    await w.database.db.execute(sql`update session set last_seen = now() - interval '2 hours'`);
    expect(await who(here)).toBeNull();
  });
  test("what a page asks by itself keeps nobody signed in", async () => {
    const { secret } = must(await signIn(w.database, "accountant", PASSWORD, "screen"));
    const idle = (minutes: number) =>
      w.database.db.execute(
        sql`update session set last_seen = now() - make_interval(mins => ${minutes})`,
      );
    const asks = (how: object) => personOf(w.database, secret, "screen", how);
    const lastSeen = async () =>
      (
        await rows<{ minutes: number }>(
          w.database.db,
          sql`select (extract(epoch from now() - last_seen) / 60)::int as minutes from session
            where hash = ${sha256(secret)}`,
        )
      )[0]!.minutes;
    await idle(20);
    expect([(await asks({ byItself: true }))?.login, await lastSeen()]).toEqual(["accountant", 20]);
    expect([(await asks({}))?.login, await lastSeen()]).toEqual(["accountant", 0]);
  });
  test("names that nobody has are locked like others: the answer does not tell", async () => {
    const said = [];
    for (const login of ["tern", "nobody-at-all"]) {
      const codes = [];
      for (let i = 0; i <= LOCK_AFTER; i++) {
        const result = await signIn(w.database, login, "a wrong guess of it", "screen");
        codes.push(result.ok ? "" : result.problems[0]!.code);
      }
      said.push(codes);
    }
    expect(said[0]).toEqual(said[1]);
    expect(said[0]!.at(-1)).toBe("SIGN_IN_LOCKED");
    await w.database.db.execute(sql`update person set locked_until = null, failed_attempts = 0`);
  });
  test.each([
    ["aaaaaaaaaaaa", true],
    ["123456789012", true],
    ["password1234", true],
    ["P4ssw0rd!2026", true],
    ["qwertyuiop12", true],
    ["            ", true],
    ["welcome2summer!", true],
    ["seven gulls over ostry", false],
    ["yellow-anchor", false],
    ["Tern-41-quay-lichen", false],
  ])("%s is tried first: %s", (password, common) =>
    expect(isCommonPassword(password)).toBe(common),
  );
});
