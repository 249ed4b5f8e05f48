import { sql } from "drizzle-orm";
import { describe, expect, test } from "vitest";
import { LOCK_AFTER, may, ROLES } from "@/core/access";
import { callerOf, must, PASSWORD, written } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { rows } from "../db";
import "../runKinds";
import "../documents";
import "../files";
import "../rates";
import "../search";
import "../statements";
import "../trace";
import { createJournal } from "../ledger";
import {
  changePassword,
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
