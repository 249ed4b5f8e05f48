import { mkdtempSync, readdirSync, readFileSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { beforeAll, describe, expect, test } from "vitest";
import { bankDay, camt, IBAN, statement } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { savePerson } from "../../access";
import { saveBankAccount } from "../saveBankAccount";
import { bankFolder, saveBankFolder, takeFolder } from "./index";

const w = world();
const { root, treasury, lines } = bankDay(w);
const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-bank-files-"));
const put = (name: string, text: string, secondsAgo = 60) => {
  const file = path.join(folder, name);
  writeFileSync(file, text);
  const at = new Date(Date.now() - secondsAgo * 1000);
  utimesSync(file, at, at);
};
const left = () =>
  readdirSync(folder, { withFileTypes: true }).flatMap((e) => (e.isFile() ? [e.name] : []));
const inside = (name: string) =>
  readdirSync(path.join(folder, name))
    .map((n) => n.slice(20))
    .sort();
const day = (number: string, opening: bigint) =>
  camt(statement(number, opening, [{ amount: 700n }]));

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
});

describe("the folder of the server", () => {
  test("is left alone until somebody says as whom its files come in, and by whom that may be said", async () => {
    put("early.xml", day("1", 0n));
    expect(await takeFolder(w.database, folder)).toBe(0);
    expect(left()).toEqual(["early.xml"]);
    // A file can be of any company: whoever works in one alone does not say it.
    must(
      await savePerson(await root(), {
        login: "alp-bank",
        name: "Alpha's bank",
        password: "sea of long words",
        active: true,
        grants: [{ role: "treasury", company: "ALP" }],
      }),
    );
    const one = await callerOf(w.database, "alp-bank");
    expect(codes(await saveBankFolder(one, { on: true }))).toEqual(["FORBIDDEN"]);
    expect(codes(await bankFolder(one, {}))).toEqual(["FORBIDDEN"]);
  });

  test("what is complete comes in once, whatever the number of processes; what is refused says why", async () => {
    must(await saveBankFolder(await root(), { on: true }));
    put("wrong.xml", day("2", 700n).replace("7.00</Amt>", "8.00</Amt>"));
    put("same.xml", day("1", 0n), 30);
    put("half.xml", "<Docu", 1);
    put(".hidden", "x");
    const done = await Promise.all([1, 2, 3].map(() => takeFolder(w.database, folder)));
    expect(done.reduce((a, b) => a + b)).toBe(3);
    expect(left().sort()).toEqual([".hidden", "half.xml"]);
    // Of the two that are the same one comes in, whichever process was first.
    const [taken] = inside("taken");
    const same = taken === "same.xml" ? "early.xml" : "same.xml";
    expect(inside("taken")).toHaveLength(1);
    expect(inside("refused")).toEqual([same, `${same}.txt`, "wrong.xml", "wrong.xml.txt"].sort());
    expect((await lines()).map((l) => l.amount)).toEqual([700n]);
    const { by, refused } = must(await bankFolder(await root(), {}));
    expect(by).toBe("Root Builder");
    expect(refused.map((r) => r.name).sort()).toEqual([same, "wrong.xml"].sort());
    const why = refused.find((r) => r.name === same)!.says;
    expect(why).toMatch(/The same file was taken in/);
    const told = readdirSync(path.join(folder, "refused")).find((n) => n.endsWith(`${same}.txt`))!;
    expect(readFileSync(path.join(folder, "refused", told), "utf8")).toBe(`${why}\n`);
    expect(readdirSync(path.join(folder, "working"))).toEqual([]);
  });

  test("what a process has left half done is taken up again, and comes in once all the same", async () => {
    const name = "left.xml";
    writeFileSync(path.join(folder, "working", name), day("3", 700n));
    expect(await takeFolder(w.database, folder)).toBe(0);
    // It is another process's work until that takes too long; by then the half file is complete.
    const later = () => new Date(Date.now() + 11 * 60_000);
    expect(await takeFolder(w.database, folder, later)).toBe(2);
    expect(inside("refused")).toContain("half.xml");
    expect(inside("taken")).toContain("left.xml");
    must(await saveBankFolder(await treasury(), { on: false }));
    put("late.xml", day("4", 1_400n));
    expect(await takeFolder(w.database, folder)).toBe(0);
  });
});
