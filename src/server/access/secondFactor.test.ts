import { TOTP, Secret } from "otpauth";
import { describe, expect, test } from "vitest";
import { callerOf, codes, must, PASSWORD } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import {
  confirmSecondFactor,
  demandSecondFactor,
  mySecondFactor,
  personOf,
  removeSecondFactor,
  resetSecondFactor,
  signIn,
  startSecondFactor,
} from "./index";

const w = world();
const START = Date.parse("2026-11-05T08:00:00Z");
/** Half minutes after the start: each has its own code. */
const step = (n: number) => new Date(START + n * 30_000);
const codeAt = (secret: string, at: Date) =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: at.getTime() });
const at = async (login: string, n: number) => ({
  ...(await callerOf(w.database, login)),
  now: () => step(n),
});
const enter = (login: string, n: number, code = "", password = PASSWORD) =>
  signIn(w.database, login, password, "screen", step(n), "", code);
const setUp = async (login: string, n: number) => {
  const { secret } = must(await startSecondFactor(await at(login, n)));
  const confirmed = must(
    await confirmSecondFactor(await at(login, n), { code: codeAt(secret, step(n)) }),
  );
  return { secret, recovery: confirmed.codes };
};

describe("the second factor (RFC 6238)", () => {
  test("its published values come out", () => {
    // RFC 6238, appendix B, SHA-1: the last six of the eight figures.
    const secret = Secret.fromLatin1("12345678901234567890").base32;
    expect(codeAt(secret, new Date(59_000))).toBe("287082");
    expect(codeAt(secret, new Date(1_111_111_109_000))).toBe("081804");
    expect(codeAt(secret, new Date(20_000_000_000_000))).toBe("353130");
  });

  test("once set up, the password alone opens nothing; no code is good twice, nor an old one", async () => {
    const { secret } = await setUp("payables", 0);
    expect(codes(await enter("payables", 1))).toEqual(["SECOND_FACTOR_NEEDED"]);
    expect(codes(await enter("payables", 1, "", "a wrong password"))).toEqual(["SIGN_IN_FAILED"]);
    // The code that confirmed it, again; one of three steps ago; one that is none.
    expect(codes(await enter("payables", 1, codeAt(secret, step(0))))).toEqual([
      "SECOND_FACTOR_WRONG",
    ]);
    expect(codes(await enter("payables", 9, codeAt(secret, step(6))))).toEqual([
      "SECOND_FACTOR_WRONG",
    ]);
    const good = codeAt(secret, step(9));
    const both = await Promise.all([enter("payables", 9, good), enter("payables", 9, good)]);
    expect(both.filter((r) => r.ok)).toHaveLength(1);
    expect((await enter("payables", 10, ` ${codeAt(secret, step(10))} `)).ok).toBe(true);
  });

  test("wrong codes are counted like wrong passwords, until the name is locked for the right one too", async () => {
    const { secret } = await setUp("assets", 20);
    for (let i = 0; i < 8; i++)
      expect(codes(await enter("assets", 21, "000000"))).toEqual(["SECOND_FACTOR_WRONG"]);
    expect(codes(await enter("assets", 21, codeAt(secret, step(21))))).toEqual(["SIGN_IN_LOCKED"]);
    expect(
      codes(await removeSecondFactor(await at("assets", 21), { code: codeAt(secret, step(21)) })),
    ).toEqual(["SIGN_IN_LOCKED"]);
  });

  test("a recovery code is good once; what was open with the password alone ends", async () => {
    const before = must(await enter("budget", 0));
    const { recovery } = await setUp("budget", 1);
    expect(await personOf(w.database, before.secret, "screen")).toBeNull();
    expect(recovery).toHaveLength(8);
    expect((await enter("budget", 2, recovery[0]!.toUpperCase())).ok).toBe(true);
    expect(codes(await enter("budget", 3, recovery[0]))).toEqual(["SECOND_FACTOR_WRONG"]);
    expect(must(await mySecondFactor(await at("budget", 3))).recoveryCodesLeft).toBe(7);
    must(await removeSecondFactor(await at("budget", 4), { code: recovery[1] }));
    expect((await enter("budget", 5)).ok).toBe(true);
  });

  test("demanded of a role, it leaves no right until it is set up; an administrator resets it", async () => {
    must(await demandSecondFactor(await callerOf(w.database, "root"), { roles: ["treasury"] }));
    const session = must(await signIn(w.database, "treasury", PASSWORD, "screen"));
    const person = await personOf(w.database, session.secret, "screen");
    expect([person?.lacksSecondFactor, person?.grants]).toEqual([true, []]);
    const token = must(await signIn(w.database, "treasury", PASSWORD, "token"));
    expect((await personOf(w.database, token.secret, "token"))?.grants).toEqual([]);
    const caller = { database: w.database, person: person! };
    const { secret } = must(await startSecondFactor(caller));
    must(await confirmSecondFactor(caller, { code: codeAt(secret, new Date()) }));
    expect((await personOf(w.database, session.secret, "screen"))?.grants).not.toEqual([]);
    expect(await personOf(w.database, token.secret, "token")).toBeNull();
    const { id } = (await callerOf(w.database, "treasury")).person!;
    expect(
      codes(await resetSecondFactor(await callerOf(w.database, "controller"), { id })),
    ).toEqual(["FORBIDDEN"]);
    must(await resetSecondFactor(await callerOf(w.database, "root"), { id }));
    expect(await personOf(w.database, session.secret, "screen")).toBeNull();
    expect((await signIn(w.database, "treasury", PASSWORD, "screen")).ok).toBe(true);
  });

  test("a factor that is set up is not replaced by another; one that is not confirmed counts for nothing", async () => {
    must(await startSecondFactor(await at("receivables", 0)));
    expect((await enter("receivables", 0)).ok).toBe(true);
    await setUp("receivables", 1);
    expect(codes(await startSecondFactor(await at("receivables", 2)))).toEqual(["INVALID"]);
  });
});
