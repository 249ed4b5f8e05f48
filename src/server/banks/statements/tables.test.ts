import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { proposeReading } from "@/core/banks/statements/table";
import { bankDay, camt, file, IBAN, statement } from "../../../../tests/bankDay";
import { world } from "../../../../tests/useWorld";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import { rows } from "../../db";
import {
  forgetReading,
  importStatements,
  listReadings,
  listStatementFiles,
  listStatements,
  lookAtBankTable,
  saveBankAccount,
  takeBackFile,
  viewStatementFile,
} from "../index";

const w = world();
const { treasury, root, lines, takeIn, decide, post, faults } = bankDay(w);
const table = (...rows: string[]) =>
  ["Umsätze", "Buchungstag;Betrag;Saldo;Verwendungszweck", ...rows].join("\r\n");
const FIRST = table("03.10.2026;1.180,00;1.180,00;Miete", "05.10.2026;-18,50;1.161,50;Gebühr");
/** As banks write it: in the letters of Windows. */
const inWindows = (name: string, text: string) => ({
  name,
  content: Buffer.from(text, "latin1").toString("base64"),
});
const readingOf = (text: string) =>
  proposeReading(text.split("\r\n").map((l) => l.split(";")))!.reading;

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
});

test("a table is read once it has been said how, and from then on by itself", async () => {
  const sent = inWindows("oct.csv", FIRST);
  expect(codes(await importStatements(await treasury(), sent))).toEqual(["READING_NEEDED"]);
  const looked = must(await lookAtBankTable(await treasury(), sent));
  expect(looked).toMatchObject({
    rows: 4,
    bank: "",
    proposed: { at: 1, doubts: ["Its dates could begin with the day or with the month"] },
  });
  expect(looked.cells[0]).toEqual(["Umsätze"]);
  const reading = looked.proposed!.reading;
  const asked = { ...sent, reading: { ...reading, format: { decimal: ",", group: "." } } } as const;
  expect(codes(await importStatements(await treasury(), asked))).toEqual(["INVALID"]);
  expect(codes(await importStatements(await treasury(), { ...asked, bank: "NONE" }))).toEqual([
    "INVALID",
  ]);
  const taken = must(await importStatements(await treasury(), { ...asked, bank: "MAIN" }));
  expect(taken).toMatchObject({ lines: 2, known: 0, statements: [{ number: "2026-10-05" }] });
  expect((await lines()).map((l) => [l.booked, l.amount, l.text])).toEqual([
    ["2026-10-03", 118_000n, "Miete"],
    ["2026-10-05", -1_850n, "Gebühr"],
  ]);
  // The next one has what is there already, and goes on behind it.
  const more = table(
    "05.10.2026;-18,50;1.161,50;Gebühr",
    "05.10.2026;1,00;1.162,50;spät",
    "06.10.2026;2,00;1.164,50;neu",
  );
  const next = must(await importStatements(await treasury(), inWindows("oct-6.csv", more)));
  expect(next).toMatchObject({ lines: 2, known: 1, statements: [{ bank: "MAIN", doubt: "" }] });
  const listed = must(await listStatements(await treasury(), { company: "ALP" }));
  expect(listed.map((s) => [s.opening, s.closing])).toEqual([
    [116_150n, 116_450n],
    [0n, 116_150n],
  ]);
});

test("a table whose balances do not lead is refused whole, and says at which row", async () => {
  const bad = table("07.10.2026;1,00;1.165,50;a", "08.10.2026;1,00;9.999,00;b");
  const refused = await importStatements(await treasury(), inWindows("bad.csv", bad));
  expect(refused).toMatchObject({ problems: [{ code: "INVALID", line: 4 }] });
  const files = must(await listStatementFiles(await treasury(), { company: "ALP" }));
  expect(files.map((f) => f.name)).toEqual(["oct-6.csv", "oct.csv"]);
});

test("a file is seen as it came, each movement at its line", async () => {
  const [, first] = must(await listStatementFiles(await treasury(), { company: "ALP" }));
  const view = must(await viewStatementFile(await treasury(), { id: first!.id, at: 3 }));
  expect(view.text[0]).toBe("Umsätze");
  expect(view.read.map((r) => [r.from, view.text[r.from - 1]])).toEqual([
    [3, "03.10.2026;1.180,00;1.180,00;Miete"],
    [4, "05.10.2026;-18,50;1.161,50;Gebühr"],
  ]);
});

test("a file is taken back while nothing of it is posted, the last one first; it may come in again", async () => {
  const [second, first] = must(await listStatementFiles(await treasury(), { company: "ALP" }));
  const back = async (id: number, reason = "Read with the wrong sign") =>
    takeBackFile(await treasury(), { id, reason });
  expect(codes(await back(first!.id, "no"))).toEqual(["REASON_REQUIRED"]);
  expect(codes(await back(first!.id))).toEqual(["IN_USE"]);
  expect(must(await back(second!.id))).toEqual({ statements: 1 });
  expect(codes(await back(second!.id))).toEqual(["IN_USE"]);
  expect((await lines()).length).toBe(2);
  const log = must(await listStatementFiles(await treasury(), { company: "ALP" }));
  expect(log[0]).toMatchObject({ takenBack: { reason: "Read with the wrong sign" }, lines: 0 });
  // What it was can be seen still, and what it said is not held against another one.
  expect(must(await viewStatementFile(await treasury(), { id: second!.id })).read).toEqual([]);
  must(
    await importStatements(await treasury(), {
      ...inWindows("oct-6.csv", table("06.10.2026;2,00;1.163,50;neu")),
    }),
  );
  const line = (await lines()).find((l) => l.text === "neu")!;
  must(await decide(line.id, { coding: { account: "4010", dimensions: { costCentre: "HARB" } } }));
  await post();
  const [third] = must(await listStatementFiles(await treasury(), { company: "ALP" }));
  expect(codes(await back(third!.id))).toEqual(["IN_USE"]);
  expect(await faults()).toEqual([]);
});

test("the file itself stays as it came, whoever asks the database", async () => {
  const change = (set: string) =>
    rows(w.database.db, sql.raw(`update statement_file set ${set} returning id`));
  await expect(change("content = 'x'")).rejects.toThrow();
  await expect(change("taken_back_at = null")).rejects.toThrow();
  await expect(rows(w.database.db, sql`delete from statement_file returning id`)).rejects.toThrow();
});

test("a statement of a bank that says itself what is what needs no reading", async () => {
  const taken = await takeIn(
    statement("90", 116_350n, [{ amount: 500n }], { from: "2026-10-06", to: "2026-10-07" }),
  );
  expect(taken.lines).toBe(1);
  const sent = file("again.xml", camt(statement("91", 0n, [{ amount: 1n }])));
  expect(codes(await lookAtBankTable(await treasury(), sent))).toEqual(["INVALID"]);
  expect(readingOf(FIRST).order).toBe("dmy");
});

test("how a table is read goes with the file that said so, when that is taken back", async () => {
  const own = { ...BANK_OF_ALPHA, code: "SAVE", name: "Deposits", account: "1112" };
  must(await saveBankAccount(await root(), { ...own, iban: "DE75512108001245126199" }));
  const sent = inWindows("save.csv", "Datum;Umsatz;Saldo;Zweck\r\n13.10.2026;5,00;5,00;Zins");
  const { proposed } = must(await lookAtBankTable(await treasury(), sent));
  const reading = { ...proposed!.reading, format: { decimal: ",", group: "." } as const };
  const first = { ...sent, bank: "SAVE", reading: { ...reading, turned: true } };
  // Turned the wrong way its balances still lead, for it is a single movement.
  const { file: id } = must(await importStatements(await treasury(), first));
  expect(codes(await importStatements(await treasury(), sent))).toEqual(["INVALID"]);
  must(await takeBackFile(await treasury(), { id, reason: "Read with the wrong sign" }));
  expect(codes(await importStatements(await treasury(), sent))).toEqual(["READING_NEEDED"]);
  const again = must(await importStatements(await treasury(), { ...first, reading }));
  expect(again.statements).toMatchObject([{ bank: "SAVE" }]);
  expect((await lines()).find((l) => l.bank === "SAVE")!.amount).toBe(500n);
});

test("a reading that is forgotten is asked for again; what came in by it stays", async () => {
  const readings = async () => must(await listReadings(await treasury(), {}));
  const [, saved] = await readings();
  expect((await readings()).map((r) => [r.bank, r.headings[0]])).toEqual([
    ["MAIN", "Buchungstag"],
    ["SAVE", "Datum"],
  ]);
  const clerk = await callerOf(w.database, "payables");
  expect(codes(await forgetReading(clerk, { id: saved!.id }))).toEqual(["FORBIDDEN"]);
  must(await forgetReading(await treasury(), { id: saved!.id }));
  expect(codes(await forgetReading(await treasury(), { id: saved!.id }))).toEqual(["NOT_FOUND"]);
  const next = inWindows("next.csv", "Datum;Umsatz;Saldo;Zweck\r\n14.10.2026;1,00;6,00;Zins");
  expect(codes(await importStatements(await treasury(), next))).toEqual(["READING_NEEDED"]);
  expect((await lines()).filter((l) => l.bank === "SAVE")).toHaveLength(1);
});
