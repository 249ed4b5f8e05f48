import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { world } from "../../../../tests/useWorld";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import { rows } from "../../db";
import { callsForMe } from "../../documents";
import {
  askedLine,
  getStatementLine,
  listStatementFiles,
  remarkOnLine,
  saveBankAccount,
  takeBackFile,
} from "../index";

const w = world();
const { treasury, root, lines, takeIn } = bankDay(w);
const clerk = () => callerOf(w.database, "payables");
let id: number;

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  await takeIn(statement("1", 0n, [{ amount: -12_300n, text: "who is this" }, { amount: 5n }]));
  id = (await lines()).find((l) => l.amount === -12_300n)!.id;
});

test("who is asked by name finds the question, sees that line and no other, and answers; nobody else does", async () => {
  const other = (await lines()).find((l) => l.amount === 5n)!.id;
  const ask = async (text: string) => remarkOnLine(await treasury(), { id, text });
  expect(codes(await askedLine(await clerk(), { id }))).toEqual(["FORBIDDEN"]);
  expect(codes(await ask("@nobody?"))).toEqual(["NOT_FOUND"]);
  expect(codes(await ask("  "))).toEqual(["INVALID"]);
  must(await ask("Is this yours, @payables?"));
  expect(must(await callsForMe(await clerk()))).toMatchObject([
    { page: `/banks/lines/${id}`, title: "who is this", text: "Is this yours, @payables?" },
  ]);
  expect(must(await askedLine(await clerk(), { id }))).toMatchObject({
    amount: -12_300n,
    seesAll: false,
  });
  expect(codes(await askedLine(await clerk(), { id: other }))).toEqual(["FORBIDDEN"]);
  expect(codes(await getStatementLine(await clerk(), { id }))).toEqual(["FORBIDDEN"]);
  // Whoever was asked shows it to nobody else, but answers whoever takes part.
  const pass = async (text: string) => codes(await remarkOnLine(await clerk(), { id, text }));
  expect(await pass("Ask @assets")).toEqual(["FORBIDDEN"]);
  expect(codes(await askedLine(await callerOf(w.database, "assets"), { id }))).toEqual([
    "FORBIDDEN",
  ]);
  expect(await pass("Rope, not invoiced yet, @treasury")).toEqual([]);
  expect(codes(await askedLine(await callerOf(w.database, "assets"), { id }))).toEqual([
    "FORBIDDEN",
  ]);
  const { remarks } = must(await getStatementLine(await treasury(), { id }));
  expect(remarks.map((r) => r.text)).toEqual([
    "Is this yours, @payables?",
    "Rope, not invoiced yet, @treasury",
  ]);
  expect((await lines()).find((l) => l.id === id)!.note).toBe("2 remarks");
});

test("what was said stays, whatever becomes of the line", async () => {
  await expect(
    w.database.db.execute(sql`delete from remark where statement_line_id = ${id}`),
  ).rejects.toThrow();
  const [file] = must(await listStatementFiles(await treasury(), { company: "ALP" }));
  must(await takeBackFile(await treasury(), { id: file!.id, reason: "Wrong account" }));
  expect(
    await rows<{ text: string }>(
      w.database.db,
      sql`select text from remark where statement_line_id = ${id}`,
    ),
  ).toHaveLength(2);
  expect(must(await callsForMe(await clerk()))).toEqual([]);
  expect(codes(await askedLine(await clerk(), { id }))).toEqual(["NOT_FOUND"]);
});
