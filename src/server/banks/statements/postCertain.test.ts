import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { saveApprovalRule } from "../../approvals";
import { rows } from "../../db";
import { workOnAll } from "../../jobs";
import { listBankAccounts, saveBankAccount, saveMovementKind } from "../index";

const w = world();
const { root, lines, takeIn, decide, faults } = bankDay(w);
const FEE = { code: "PMNT-MDOP-CHRG", text: "Fee" };
const states = async (no: string) =>
  (await lines()).filter((l) => l.statement === no).map((l) => [l.amount, l.state]);
const save = async (more: object) => {
  const [before] = must(await listBankAccounts(await root(), {}));
  return must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      iban: IBAN,
      ...(before ? { version: before.version } : {}),
      ...more,
    }),
  );
};

beforeAll(async () => {
  await save({});
  must(
    await saveMovementKind(await root(), {
      code: "CHARGE",
      name: "Bank charges",
      side: "out",
      codes: [FEE.code],
      account: "7450",
      dimensions: { costCentre: "HARB" },
    }),
  );
});

test("what is certain is posted when the file comes in, where the account is set up so, and nothing else", async () => {
  await takeIn(statement("1", 0n, [{ ...FEE, amount: -100n }], { to: "2026-10-06" }));
  await workOnAll(w.database);
  expect(await states("1")).toEqual([[-100n, "certain"]]);

  await save({ postsCertain: true });
  const before = (await lines())[0]!;
  // What somebody has chosen waits for somebody.
  must(
    await decide(before.id, { coding: { account: "7450", dimensions: { costCentre: "HARB" } } }),
  );
  await takeIn(
    statement(
      "2",
      -100n,
      [
        { ...FEE, amount: -200n },
        { amount: 7n, text: "nobody knows" },
      ],
      { from: "2026-10-06", to: "2026-10-07" },
    ),
  );
  await workOnAll(w.database);
  expect(await states("2")).toEqual([
    [-200n, "posted"],
    [7n, "unexplained"],
  ]);
  expect(await states("1")).toEqual([[-100n, "chosen"]]);
  expect(await faults()).toEqual([]);
});

test("a rule that wants a second person is not passed by: the job says so, and the lines stay", async () => {
  must(
    await saveApprovalRule(await callerOf(w.database, "root"), {
      type: "bank",
      company: "ALP",
      currency: "EUR",
      minimum: "1.00",
      role: "controller",
    }),
  );
  await takeIn(
    statement("3", -293n, [{ ...FEE, amount: -300n }], { from: "2026-10-07", to: "2026-10-08" }),
  );
  await workOnAll(w.database);
  expect(await states("3")).toEqual([[-300n, "certain"]]);
  const [job] = await rows<{ state: string; note: string }>(
    w.database.db,
    sql`select state, note from job order by id desc limit 1`,
  );
  expect(job!.state).toBe("failed");
  expect(job!.note).toMatch(/approved by/);
});
