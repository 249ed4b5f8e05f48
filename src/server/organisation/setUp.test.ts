import { beforeAll, describe, expect, test } from "vitest";
import { callerOf, codes, must, written } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { createJournal, trialBalance } from "../ledger";
import { verify } from "../verify";
import { addYear, listBooks, listFirstSteps, periodMatrix, saveBook, switchPeriods } from "./index";

const w = world();
const admin = () => callerOf(w.database, "admin");
const root = () => callerOf(w.database, "root");
const journal = async (more: Record<string, unknown> = {}) =>
  createJournal(await callerOf(w.database, "accountant"), { ...written(more), post: true });

test("the first steps tick themselves, end with the first journal, and are for whoever sets up", async () => {
  const left = async () =>
    must(await listFirstSteps(await root())).flatMap((s) => (s.done ? [] : [s.name]));
  const begun = await left();
  expect(begun).toContain("First journal");
  expect(begun).not.toContain("Companies");
  must(await journal());
  expect(await left()).toEqual([]);
  expect(codes(await listFirstSteps(await callerOf(w.database, "auditor")))).toEqual(["FORBIDDEN"]);
});

describe("books", () => {
  beforeAll(async () => {
    must(await journal());
  });
  test("a new one begins with what all share and takes journals of its own; an ended one is read and takes none", async () => {
    expect(codes(await saveBook(await admin(), { code: "all", name: "x" }))).toEqual(["INVALID"]);
    expect(codes(await saveBook(await admin(), { code: "IFRS", name: "x", ended: true }))).toEqual([
      "IN_USE",
    ]);
    expect(
      codes(await saveBook(await callerOf(w.database, "accountant"), { code: "MGT", name: "M" })),
    ).toEqual(["FORBIDDEN"]);
    must(await saveBook(await admin(), { code: "MGT", name: "Management" }));
    const balance = async (book: string) =>
      must(
        await trialBalance(await root(), { company: "ALP", period: "2026-10", book }),
      ).rows.filter((r) => r.closing !== 0n);
    expect(await balance("MGT")).toEqual(await balance("LOCAL"));
    // What belongs to all books posts as before: the new one has its periods open as the main one.
    must(await journal());
    must(await journal({ book: "MGT" }));
    expect(await balance("MGT")).not.toEqual(await balance("LOCAL"));
    expect(must(await listBooks(await admin())).find((b) => b.code === "MGT")).toMatchObject({
      journals: 1,
      ended: false,
    });
    must(await saveBook(await admin(), { code: "MGT", name: "Management", ended: true }));
    expect(codes(await journal({ book: "MGT" }))).toContain("BOOK_ENDED");
    expect((await balance("MGT")).length).toBeGreaterThan(0);
    // Its periods hold nobody up any more.
    must(
      await switchPeriods(await root(), {
        company: "ALP",
        book: "all",
        area: "all",
        periods: ["2026-11"],
        to: "open",
      }),
    );
    must(await journal({ date: "2026-11-03" }));
    // Taken up again it is where the main book is, and stops nobody.
    must(await saveBook(await admin(), { code: "MGT", name: "Management" }));
    must(await journal({ date: "2026-11-03" }));
    must(await journal({ date: "2026-11-03", book: "MGT" }));
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });
});

describe("years", () => {
  test("several at once follow on; the next proposal follows from the last; all of them or none", async () => {
    const year = { company: "BET", name: "2027", start: "2027-01-01" };
    expect(codes(await addYear(await admin(), { ...year, start: "2027-01-02" }))).toEqual([
      "YEAR_GAP",
    ]);
    expect(codes(await addYear(await admin(), { ...year, name: "2026" }))).toEqual(["YEAR_EXISTS"]);
    must(await addYear(await admin(), { ...year, more: 2 }));
    const matrix = async () => must(await periodMatrix(await root(), { company: "BET" }));
    expect((await matrix()).years.slice(0, 3).map((y) => [y.name, y.start, y.end])).toEqual([
      ["2029", "2029-01-01", "2029-12-31"],
      ["2028", "2028-01-01", "2028-12-31"],
      ["2027", "2027-01-01", "2027-12-31"],
    ]);
    must(
      await addYear(await admin(), {
        company: "BET",
        name: "2030S",
        start: "2030-01-01",
        end: "2030-03-31",
      }),
    );
    must(
      await addYear(await admin(), {
        company: "BET",
        name: "30/31",
        start: "2030-04-01",
        division: "4-4-5",
      }),
    );
    expect((await matrix()).next).toEqual({
      name: "31/32",
      start: "2031-03-31",
      division: "4-4-5",
      count: 12,
    });
    const before = (await matrix()).years.length;
    expect(
      codes(
        await addYear(await admin(), {
          company: "BET",
          name: "2028",
          start: "2031-03-31",
          more: 1,
        }),
      ),
    ).toEqual(["YEAR_EXISTS"]);
    expect((await matrix()).years.length).toBe(before);
  });
});
