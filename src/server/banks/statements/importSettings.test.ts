import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { bankDay, camt, file, IBAN, statement } from "../../../../tests/bankDay";
import { world } from "../../../../tests/useWorld";
import { BANK_OF_ALPHA, must } from "../../../../tests/world";
import { rows } from "../../db";
import { savePartner } from "../../partners";
import {
  bankRegister,
  importStatements,
  matchLinesAnew,
  saveBankAccount,
  saveMovementKind,
} from "../index";

const w = world();
const { treasury, root, lines, lineOf, owed, takeIn, decide, post, faults } = bankDay(w);
let version = 0;
const set = async (more: object) => {
  const input = { ...BANK_OF_ALPHA, iban: IBAN, ...more };
  must(await saveBankAccount(await root(), version === 0 ? input : { ...input, version }));
  version++;
};
const MT940 =
  ":20:A\n:25:DE02500105170137075030\n:28C:1\n:60F:C261005EUR0,00\n:61:261006C5,00NTRFX\n:62F:C261006EUR5,00\n-";
const send = async (text: string, more: object = {}) => {
  const taken = await importStatements(await treasury(), { ...file("a.sta", text), ...more });
  return taken.ok ? taken.value.format : JSON.stringify(taken.problems);
};

beforeAll(async () => {
  await set({});
  must(
    await savePartner(await root(), { code: "OST", name: "Ostry", customer: true, country: "IE" }),
  );
  await owed("R-10001", "7.00", "OST");
});

test("an account whose statements come in one form takes no other, whoever brings it", async () => {
  await set({ statementFormat: "camt" });
  expect(await send(MT940)).toContain("come as camt.053 (ISO 20022); this one is MT940");
  await set({ statementFormat: "mt940" });
  expect(await send(camt(statement("1", 0n, [{ amount: 5n }])))).toContain("come as MT940");
  expect(await send(MT940)).toBe("MT940");
});

test("an account whose statements a person takes in is left alone by the folder", async () => {
  await set({ fromFolder: false });
  const next = camt(statement("2", 500n, [{ amount: 1n }]));
  expect(await send(next, { byFolder: true })).toContain("taken in by a person");
  expect(await send(next)).toBe("camt.053");
});

test("lines are matched when somebody asks, where they are not matched as they come", async () => {
  await set({ matchesAtOnce: false });
  const line = { amount: 700n, text: "R-10001" };
  const taken = await takeIn(statement("3", 501n, [line], { to: "2026-10-07" }));
  const state = async () => (await lines()).find((l) => l.amount === 700n)!.state;
  expect([taken.certain, await state()]).toEqual([0, "unexplained"]);
  must(await matchLinesAnew(await treasury(), { company: "ALP" }));
  expect(await state()).toBe("certain");
});

test("what is coded of an account's lines has its usual values, but for those that the coding says or the account does not take", async () => {
  const wrong = { ...BANK_OF_ALPHA, iban: IBAN, version, dimensions: { costCentre: "NONE" } };
  expect(await saveBankAccount(await root(), wrong)).toMatchObject({
    problems: [{ code: "VALUE_UNKNOWN", field: "dimensions.costCentre" }],
  });
  await set({ dimensions: { costCentre: "VESS" } });
  must(
    await saveMovementKind(await root(), {
      code: "OTHER",
      name: "Other income",
      group: "What comes in",
      side: "in",
      account: "4010",
      dimensions: { costCentre: "HARB" },
    }),
  );
  const amounts = [11n, 12n, 13n, 14n];
  const next = { from: "2026-10-07", to: "2026-10-08" };
  await takeIn(
    statement(
      "4",
      1_201n,
      amounts.map((amount) => ({ amount })),
      next,
    ),
  );
  const code = async (amount: bigint, more: object) =>
    must(await decide((await lineOf(amount)).id, more));
  await code(11n, { coding: { account: "4010", dimensions: {} } });
  await code(12n, { coding: { account: "4010", dimensions: { costCentre: "HARB" } } });
  await code(13n, { kind: "OTHER" });
  // This account takes no cost centre.
  await code(14n, { coding: { account: "3110", dimensions: {} } });
  await post();
  const coded = await rows<{ amount: bigint; value: string | null }>(
    w.database.db,
    sql`select l.amount, v.code as value from journal_line l join coding c on c.id = l.coding_id
        left join dimension_value v on v.id = any(c.value_ids)
      where l.side = 'C' and l.amount between 11 and 14 order by 1`,
  );
  expect(coded.map((l) => l.value)).toEqual(["VESS", "HARB", "HARB", null]);
  // The register gives the sums of what was posted by its kind, by their group.
  const of = { company: "ALP", bank: "MAIN", from: "2026-10-01", to: "2026-10-08" };
  const sums = async (more: object = {}) =>
    must(await bankRegister(await treasury(), { ...of, ...more })).groups;
  expect(await sums()).toEqual([{ name: "What comes in", in: 13n, out: 0n, lines: 1 }]);
  expect(await sums({ to: "2026-10-07" })).toEqual([]);
  expect(await faults()).toEqual([]);
});
