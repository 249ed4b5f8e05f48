import fc from "fast-check";
import { sql } from "drizzle-orm";
import { describe, expect, test } from "vitest";
import { minor } from "@/core/shared";
import type { DraftLine, JournalDraft } from "@/core/ledger";
import { callerOf, journal, months, must, runAs, written, codes } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { rows, type Db } from "../db";
import { switchPeriods } from "../organisation";
import {
  createJournal,
  deleteDraft,
  getJournal,
  postDraft,
  postDrafts,
  postStoredDraft,
  reverseJournal,
  saveDraft,
  trialBalance,
} from "./index";
import { verify } from "../verify";

const w = world();
const faults = async (db: Db) => (await verify(db)).flatMap((c) => c.faults);
const balances = (db: Db) =>
  rows<Record<string, unknown>>(
    db,
    sql`select company_id, book_id, year_id, period_no, account_id, coding_id, debit - credit as net
      from coding_balance where debit <> credit order by 1, 2, 3, 4, 5, 6`,
  );

describe("posting", () => {
  test("a posted journal has its number, its turnover, and its place in the chain", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const posted = must(await createJournal(accountant, { ...written(), post: true }));
    expect(posted.number).toMatch(/^ALP-26-\d{5}$/);
    const balance = must(await trialBalance(accountant, { company: "ALP", period: "2026-10" }));
    const row = balance.rows.find((r) => r.account === "6310")!;
    expect(row.debit).toBe(48_200_00n);
    expect(balance.totals.debit).toBe(balance.totals.credit);
    expect(await faults(w.database.db)).toEqual([]);
  });

  test("every problem is found at once, at its line and field, and nothing is stored", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const [before] = await rows<{ n: number }>(
      w.database.db,
      sql`select count(*)::int as n from document`,
    );
    const result = await createJournal(accountant, {
      ...written({ date: "31 Feb 2026", description: "" }),
      post: true,
      lines: [
        { account: "6310", dimensions: {}, description: "", debit: "12.345", credit: "" },
        {
          account: "9999",
          dimensions: { costCentre: "NOWHERE" },
          description: "x".repeat(100_000),
          debit: "1",
          credit: "2",
        },
        { account: "2140", dimensions: {}, description: "", debit: "", credit: "NaN" },
        {
          account: "6310",
          dimensions: { costCentre: "OPS" },
          description: "",
          debit: "",
          credit: "1,00.00",
        },
      ],
    });
    expect(result.ok).toBe(false);
    const found = result.ok
      ? []
      : result.problems.map((p) => `${p.line ?? ""}:${p.field}:${p.code}`);
    expect(found).toEqual(
      expect.arrayContaining([
        ":date:DATE_INVALID",
        ":description:REQUIRED",
        "1:debit:AMOUNT_DECIMALS",
        "1:costCentre:DIMENSION_REQUIRED",
        "2:account:ACCOUNT_UNKNOWN",
        "2:costCentre:VALUE_UNKNOWN",
        "2:description:TEXT_TOO_LONG",
        "2:credit:BOTH_SIDES",
        "3:partner:PARTNER_REQUIRED",
        "3:dueDate:DUE_DATE_REQUIRED",
        ":reference:REFERENCE_REQUIRED",
        "3:credit:AMOUNT_NOT_NUMBER",
        "4:costCentre:VALUE_BLOCKED",
        "4:credit:AMOUNT_NOT_NUMBER",
      ]),
    );
    const [after] = await rows<{ n: number }>(
      w.database.db,
      sql`select count(*)::int as n from document`,
    );
    expect(after!.n).toBe(before!.n);
  });

  test.each([
    [
      "unbalanced",
      {
        lines: [
          {
            account: "6310",
            dimensions: { costCentre: "HARB" },
            description: "",
            debit: "10",
            credit: "",
          },
          { account: "2410", dimensions: {}, description: "", debit: "", credit: "9.99" },
        ],
      },
      "UNBALANCED",
    ],
    ["a period not yet open", { date: "2026-12-01" }, "PERIOD_NOT_OPENED"],
    ["no such year", { date: "2030-01-01" }, "PERIOD_MISSING"],
    ["a foreign currency without a rate", { currency: "GBP" }, "RATE_MISSING"],
    ["a type that only the system makes", { type: "purchase" }, "TYPE_NOT_MANUAL"],
    ["an unknown book", { book: "MOON" }, "BOOK_UNKNOWN"],
    [
      "a value out of its dates",
      {
        date: "2025-06-01",
        lines: [
          {
            account: "6310",
            dimensions: { costCentre: "HARB", project: "P-071" },
            description: "",
            debit: "1",
            credit: "",
          },
          { account: "2410", dimensions: {}, description: "", debit: "", credit: "1" },
        ],
      },
      "VALUE_NOT_ACTIVE",
    ],
    [
      "one line",
      {
        lines: [
          {
            account: "6310",
            dimensions: { costCentre: "HARB" },
            description: "",
            debit: "1",
            credit: "",
          },
        ],
      },
      "NO_LINES",
    ],
  ])("refused: %s", async (_name, over, code) => {
    const accountant = await callerOf(w.database, "accountant");
    expect(codes(await createJournal(accountant, { ...written(over), post: true }))).toContain(
      code,
    );
  });

  test("post then reverse leaves every balance as it was, by either mode, linked both ways", async () => {
    const accountant = await callerOf(w.database, "accountant");
    for (const type of ["general", "accrual"]) {
      const before = await balances(w.database.db);
      const posted = must(await createJournal(accountant, { ...written({ type }), post: true }));
      const reversal = must(await reverseJournal(accountant, { key: posted.number! }));
      expect(await balances(w.database.db)).toEqual(before);
      const view = must(await getJournal(accountant, { key: String(posted.id) }));
      expect(view).toMatchObject({ status: "reversed", reversedBy: { number: reversal.number } });
      expect(must(await getJournal(accountant, { key: reversal.number }))).toMatchObject({
        reverses: { number: posted.number },
      });
      expect(codes(await reverseJournal(accountant, { key: posted.number! }))).toEqual([
        "ALREADY_REVERSED",
      ]);
      expect(codes(await reverseJournal(accountant, { key: reversal.number }))).toEqual([
        "REVERSAL_NOT_REVERSED",
      ]);
    }
    expect(await faults(w.database.db)).toEqual([]);
  });

  test("balances equal lines, and debits credits, after any sequence of posts and reversals, over years and books", async () => {
    const root = await callerOf(w.database, "root");
    const account = fc.constantFrom("1110", "1440", "2410", "3210", "4010", "6310", "7450", "8520");
    const line = fc.record({
      account,
      side: fc.constantFrom("debit" as const, "credit" as const),
      amount: fc.bigInt({ min: 1n, max: 10n ** 12n }),
    });
    const draft = fc.record({
      company: fc.constantFrom("ALP", "BET"),
      book: fc.constantFrom(null, "IFRS", "LOCAL"),
      date: fc.constantFrom("2025-03-04", "2025-12-31", "2026-01-01", "2026-10-15"),
      lines: fc.array(line, { minLength: 1, maxLength: 8 }),
    });
    await fc.assert(
      fc.asyncProperty(
        fc.array(draft, { minLength: 1, maxLength: 6 }),
        fc.boolean(),
        async (drafts, reverse) => {
          const built = drafts.map((d): JournalDraft => {
            const lines = d.lines
              .filter((l) => !(d.book && l.account === "1110"))
              .map((l): DraftLine => ({
                account: l.account,
                side: l.side,
                amount: minor(l.amount),
                description: "",
                dimensions: /^[4-7]/.test(l.account) ? { costCentre: "VESS" } : {},
              }));
            const net = lines.reduce((s, l) => s + (l.side === "debit" ? l.amount : -l.amount), 0n);
            // A net of zero needs a line more all the same: two are the least.
            lines.push({
              account: "2440",
              side: net > 0n ? "credit" : "debit",
              amount: minor(net === 0n ? 1n : net < 0n ? -net : net),
              description: "",
              dimensions: {},
            });
            if (net === 0n)
              lines.push({
                account: "2440",
                side: "credit",
                amount: minor(1n),
                description: "",
                dimensions: {},
              });
            if (lines.length < 2)
              lines.push(
                {
                  account: "1440",
                  side: "debit",
                  amount: minor(5n),
                  description: "",
                  dimensions: {},
                },
                {
                  account: "1440",
                  side: "credit",
                  amount: minor(5n),
                  description: "",
                  dimensions: {},
                },
              );
            return {
              ...journal(),
              company: d.company,
              book: d.book,
              date: d.date,
              type: d.book || !lines.some((l) => l.account === "1110") ? "general" : "bank",
              lines,
            };
          });
          const posted = must(await runAs(root, (context) => postDrafts(context, built)));
          if (reverse) must(await reverseJournal(root, { key: String(posted[0]!.id) }));
          const [net] = await rows<{ n: number }>(
            w.database.db,
            sql`select count(*)::int as n from (select 1 from journal_line group by company_id,
              book_id having sum(case when side = 'D' then amount else -amount end) <> 0) x`,
          );
          expect(net!.n).toBe(0);
        },
      ),
      { numRuns: 25 },
    );
    expect(await faults(w.database.db)).toEqual([]);
  });

  test("one problem in a load and none of it is posted", async () => {
    const root = await callerOf(w.database, "root");
    const before = await balances(w.database.db);
    const result = await runAs(root, (context) =>
      postDrafts(context, [journal(), journal({ date: "2026-12-24" }), journal()]),
    );
    expect(result).toMatchObject({
      ok: false,
      problems: [{ code: "PERIOD_NOT_OPENED", journal: 1 }],
    });
    expect(await balances(w.database.db)).toEqual(before);
  });
});

describe("drafts", () => {
  test("what was typed is kept, wrong or not; a stale copy is refused; a double click posts once", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const controller = await callerOf(w.database, "controller");
    const bad = written({ date: "soon", description: "Half done" });
    const saved = must(await saveDraft(accountant, { content: bad }));
    expect(saved.problems.map((p) => p.code)).toContain("DATE_INVALID");
    expect(must(await getJournal(accountant, { key: String(saved.id) }))).toMatchObject({
      kind: "draft",
      content: { date: "soon" },
    });
    const second = must(
      await saveDraft(controller, { id: saved.id, version: saved.version, content: written() }),
    );
    const stale = await saveDraft(accountant, {
      id: saved.id,
      version: saved.version,
      content: bad,
    });
    expect(stale).toMatchObject({
      ok: false,
      problems: [{ code: "STALE", by: "Person controller" }],
    });
    // A save whose answer was lost, sent again as it was: it is there already.
    const again = must(
      await saveDraft(controller, { id: saved.id, version: saved.version, content: written() }),
    );
    expect(again.version).toBeGreaterThan(second.version);
    const clicks = await Promise.all(
      [1, 2].map(() =>
        postDraft(accountant, { id: saved.id, version: again.version, content: written() }),
      ),
    );
    expect(clicks.filter((c) => c.ok)).toHaveLength(1);
    expect(clicks.flatMap((c) => codes(c))).toEqual(["ALREADY_POSTED"]);
    expect(codes(await postStoredDraft(accountant, { id: saved.id }))).toEqual(["ALREADY_POSTED"]);
  });

  test("a deleted draft leaves no gap, and its content in the history", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const saved = must(
      await saveDraft(accountant, { content: written({ description: "Not wanted" }) }),
    );
    must(await deleteDraft(accountant, { id: saved.id, version: saved.version }));
    expect(codes(await getJournal(accountant, { key: String(saved.id) }))).toEqual(["NOT_FOUND"]);
    const [event] = await rows<{ before: { description: string } }>(
      w.database.db,
      sql`select before from audit_event where action = 'draft deleted' and record_id = ${String(saved.id)}`,
    );
    expect(event!.before.description).toBe("Not wanted");
    expect(await faults(w.database.db)).toEqual([]);
  });
});

describe("periods", () => {
  test("closed, closing and area states decide who may still post", async () => {
    const root = await callerOf(w.database, "root");
    const accountant = await callerOf(w.database, "accountant");
    const inBeta = written({ company: "BET", date: "2026-10-02" });
    for (const book of ["IFRS", "LOCAL", "TAX"])
      must(
        await switchPeriods(root, {
          company: "BET",
          book,
          area: "ledger",
          periods: ["2026-10"],
          to: "closing",
        }),
      );
    expect(codes(await createJournal(accountant, { ...inBeta, post: true }))).toEqual([
      "PERIOD_CLOSING",
    ]);
    must(await createJournal(root, { ...inBeta, post: true }));
    // One book that is closed keeps out what belongs to all books, and only that.
    for (const period of [...months("2025", 1, 13), ...months("2026", 1, 9)])
      must(
        await switchPeriods(root, {
          company: "BET",
          book: "TAX",
          area: "ledger",
          periods: [period],
          to: "closed",
        }),
      );
    expect(
      codes(await createJournal(accountant, { ...inBeta, date: "2026-09-30", post: true })),
    ).toEqual(["PERIOD_CLOSED"]);
    must(
      await createJournal(accountant, { ...inBeta, date: "2026-09-30", book: "LOCAL", post: true }),
    );
    must(
      await switchPeriods(root, {
        company: "BET",
        book: "IFRS",
        area: "payables",
        periods: ["2026-09"],
        to: "closed",
      }),
    );
    expect(
      codes(
        await runAs(root, (context) =>
          postDrafts(context, [
            { ...journal({ company: "BET", type: "purchase", book: "IFRS", date: "2026-09-03" }) },
          ]),
        ),
      ),
    ).toEqual(["PERIOD_AREA"]);
  });
});
