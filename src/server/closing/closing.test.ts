import { sql } from "drizzle-orm";
import { describe, expect, test } from "vitest";
import { minor } from "@/core/shared";
import { callerOf, journal, months, must, runAs, written, codes } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { rows } from "../db";
import {
  changesSince,
  createJournal,
  deleteDraft,
  postDrafts,
  reverseJournal,
  saveDraft,
  trialBalance,
} from "../ledger";
import { verify } from "../verify";
import { addYear, switchPeriods } from "../organisation";
import { discardRun, getRun, postRun, proposeRun, reverseRun } from "../runs";
import { statement } from "../statements";
import { closeBoard } from "./index";

const w = world();
const yearEnd = (book: string, more: object = {}) => ({
  kind: "year-end",
  params: { company: "ALP", year: "2025", book, ...more },
});
const closingOf = async (account: string, period: string, book = "IFRS", more: object = {}) =>
  must(
    await trialBalance(await callerOf(w.database, "root"), {
      company: "ALP",
      period,
      book,
      ...more,
    }),
  ).rows.find((r) => r.account === account)!;
const sale = (date: string, amount: bigint, book: string | null = null, period?: string) =>
  journal({
    date,
    book,
    ...(period ? { period } : {}),
    lines: [
      { account: "1100", dimensions: {}, description: "", side: "debit", amount: minor(amount) },
      {
        account: "4010",
        dimensions: { costCentre: "VESS" },
        description: "",
        side: "credit",
        amount: minor(amount),
      },
    ],
  });
const cost = (date: string, amount: bigint, book: string | null) =>
  journal({
    date,
    book,
    lines: [
      {
        account: "6310",
        dimensions: { costCentre: "HARB" },
        description: "",
        side: "debit",
        amount: minor(amount),
      },
      { account: "2710", dimensions: {}, description: "", side: "credit", amount: minor(amount) },
    ],
  });

describe("year end", () => {
  test("carries the result of a year in one book to retained earnings; a later adjustment is carried by itself; reversal takes it all back (worked example)", async () => {
    const root = await callerOf(w.database, "root");
    // 9,850.00 of fares and 2,230.00 of costs in all books, 400.00 more of costs in LOCAL.
    must(
      await runAs(root, (c) =>
        postDrafts(c, [
          sale("2025-06-30", 985_000n),
          cost("2025-07-31", 223_000n, null),
          cost("2025-07-31", 40_000n, "LOCAL"),
        ]),
      ),
    );
    expect(must(await trialBalance(root, { company: "ALP", period: "2026-01" }))).toMatchObject({
      uncarried: -762_000n,
      totals: { opening: 0n, closing: 0n },
    });
    const before = (await closingOf("3210", "2026-01")).opening;

    const proposed = must(await proposeRun(root, yearEnd("IFRS")));
    const preview = must(await getRun(root, { key: proposed.number }));
    expect(preview).toMatchObject({
      status: "preview",
      head: { figures: [{ amount: 762_000n }] },
    });
    expect(await proposeRun(root, yearEnd("IFRS"))).toMatchObject({
      ok: false,
      problems: [{ code: "RUN_STANDS_IN_WAY" }],
    });
    const posted = must(await postRun(root, { key: proposed.number }));
    expect(posted.journals[0]).toMatch(/^ALP-25-Y\d{3}$/);
    expect(codes(await postRun(root, { key: proposed.number }))).toEqual(["RUN_STATE"]);
    expect((await closingOf("3210", "2026-01")).opening - before).toBe(-762_000n);
    expect(must(await trialBalance(root, { company: "ALP", period: "2026-01" })).uncarried).toBe(
      0n,
    );
    // The other book stands as it was, and the closed year still shows its result.
    expect(
      must(await trialBalance(root, { company: "ALP", period: "2026-01", book: "LOCAL" }))
        .uncarried,
    ).toBe(-722_000n);
    const shown = must(
      await statement(root, { company: "ALP", period: "2025-13", code: "income-statement" }),
    );
    expect(shown.lines.find((l) => l.code === "result")!.values[3]).toBe(762_000n);
    expect((await closingOf("4010", "2025-13")).closing).toBe(-985_000n);
    expect((await closingOf("4010", "2025-13", "IFRS", { withClosing: true })).closing).toBe(0n);
    const sheet = must(
      await statement(root, { company: "ALP", period: "2025-13", code: "balance-sheet" }),
    );
    const value = (code: string, s = sheet) => s.lines.find((l) => l.code === code)!.values[0];
    expect(value("result")).toBe(762_000n);
    expect(value("total-assets")).toBe(value("total-equity-and-liabilities"));

    must(await runAs(root, (c) => postDrafts(c, [sale("2025-12-31", 10_000n, null, "2025-13")])));
    expect((await closingOf("3210", "2026-01")).opening - before).toBe(-772_000n);
    expect(must(await getRun(root, { key: proposed.number })).journals).toHaveLength(2);

    expect(codes(await reverseJournal(root, { key: posted.journals[0]! }))).toEqual([
      "REVERSE_BY_RUN",
    ]);
    expect(codes(await reverseRun(root, { key: proposed.number, reason: "no" }))).toEqual([
      "REASON_REQUIRED",
    ]);
    must(await reverseRun(root, { key: proposed.number, reason: "auditor's adjustments" }));
    expect((await closingOf("3210", "2026-01")).opening).toBe(before);
    expect(must(await trialBalance(root, { company: "ALP", period: "2026-01" })).uncarried).toBe(
      -772_000n,
    );
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });

  test("what moved under a preview is said, and a discarded one frees what it held", async () => {
    const root = await callerOf(w.database, "root");
    const first = must(await proposeRun(root, yearEnd("TAX")));
    must(await runAs(root, (c) => postDrafts(c, [sale("2025-03-01", 100n)])));
    expect(codes(await postRun(root, { key: first.number }))).toEqual(["RUN_MOVED"]);
    must(await discardRun(root, { key: first.number }));
    const second = must(await proposeRun(root, yearEnd("TAX", { byDimension: true })));
    must(await postRun(root, { key: second.number }));
    expect(codes(await proposeRun(root, yearEnd("TAX")))).toEqual(["YEAR_END_POSTED"]);
    const accountant = await callerOf(w.database, "accountant");
    expect(codes(await proposeRun(accountant, yearEnd("LOCAL")))).toEqual(["FORBIDDEN"]);
  });

  test("a new year opens with what the years before it leave", async () => {
    const root = await callerOf(w.database, "root");
    const old = await closingOf("1100", "2026-12");
    must(await addYear(root, { company: "ALP", name: "2027", start: "2027-01-01" }));
    expect((await closingOf("1100", "2027-01")).opening).toBe(old.closing);
    expect((await closingOf("4010", "2027-01")).opening).toBe(0n);
    expect(
      codes(await addYear(root, { company: "ALP", name: "2029", start: "2029-01-01" })),
    ).toEqual(["YEAR_GAP"]);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });
});

describe("as known then", () => {
  test("a report stands as it stood, closed years and openings included, and the difference is listed journal by journal", async () => {
    const root = await callerOf(w.database, "root");
    const place = { company: "BET", period: "2026-10" };
    const at = (iso: string) => ({ ...root, now: () => new Date(iso) });
    must(
      await runAs(at("2027-01-01T10:00:00Z"), (c) =>
        postDrafts(c, [
          journal({ company: "BET" }, 500n),
          journal({ company: "BET", date: "2025-05-05" }, 300n),
        ]),
      ),
    );
    const then = must(await trialBalance(root, place));
    const sheetThen = must(await statement(root, { ...place, code: "balance-sheet" }));
    must(
      await runAs(at("2027-01-02T10:00:00Z"), (c) =>
        postDrafts(c, [
          journal({ company: "BET" }, 70n),
          journal({ company: "BET", date: "2025-06-06" }, 11n),
          journal({ company: "BET", book: "TAX" }, 9n),
        ]),
      ),
    );
    expect(must(await trialBalance(root, place))).not.toEqual(then);
    expect(must(await trialBalance(root, { ...place, asKnown: "2027-01-01T12:00:00Z" }))).toEqual(
      then,
    );
    expect(
      must(
        await statement(root, { ...place, code: "balance-sheet", asKnown: "2027-01-01T12:00:00Z" }),
      ).lines,
    ).toEqual(sheetThen.lines);
    const changes = must(await changesSince(root, { ...place, since: "2027-01-01T12:00:00Z" }));
    expect(changes.rows.map((r) => r.result)).toEqual([-70n, -11n]);
  });
});

describe("the close", () => {
  test("closes only when its checks hold, notes the chain's head, and reopens with a reason", async () => {
    const root = await callerOf(w.database, "root");
    const accountant = await callerOf(w.database, "accountant");
    const switchTo = (periods: string[], to: string, reason = "") =>
      switchPeriods(root, { company: "BET", book: "all", area: "ledger", periods, to, reason });
    must(await switchTo([...months("2025", 1, 13), ...months("2026", 1, 8)], "closed"));
    const draft = must(
      await saveDraft(accountant, { content: written({ company: "BET", date: "2026-09-12" }) }),
    );
    const board = must(await closeBoard(root, { company: "BET", period: "2026-09" }));
    expect(
      board.checks.filter((c) => c.state === "fails").map((c) => [c.code, c.door !== null]),
    ).toEqual([["drafts", true]]);
    expect(codes(await switchTo(["2026-09"], "closed"))).toEqual(["CHECKS_FAIL"]);
    must(await deleteDraft(accountant, { id: draft.id, version: 1 }));
    must(await switchTo(["2026-09"], "closed"));
    expect(
      codes(
        await createJournal(accountant, {
          ...written({ company: "BET", date: "2026-09-12" }),
          post: true,
        }),
      ),
    ).toEqual(["PERIOD_CLOSED"]);
    expect(codes(await switchTo(["2026-09"], "open"))).toContain("REASON_REQUIRED");
    must(await switchTo(["2026-09"], "open", "a late invoice"));
    const [record] = await rows<{ reason: string; seq: bigint; hash: string }>(
      w.database.db,
      sql`select reason, chain_seq as seq, chain_hash as hash from close_record order by id desc limit 1`,
    );
    const [head] = await rows<{ seq: bigint; hash: string }>(
      w.database.db,
      sql`select seq, hash from chain where company_id = 2`,
    );
    expect(record).toEqual({ reason: "a late invoice", ...head });
    expect(
      codes(
        await switchPeriods(accountant, {
          company: "BET",
          book: "IFRS",
          area: "ledger",
          periods: ["2026-09"],
          to: "closed",
        }),
      ),
    ).toEqual(["FORBIDDEN"]);
  });

  test("balances that differ from their lines stop a close", async () => {
    const root = await callerOf(w.database, "root");
    await w.database.db.execute(
      sql`update account_balance b set debit = debit + 1
        where company_id = 1 and period_no = 3 and account_id = (select id from account
        where number = '1100')`,
    );
    const board = must(await closeBoard(root, { company: "ALP", period: "2025-03" }));
    expect(board.checks.find((c) => c.code === "balances")).toMatchObject({ state: "fails" });
    await w.database.db.execute(
      sql`update account_balance b set debit = debit - 1
        where company_id = 1 and period_no = 3 and account_id = (select id from account
        where number = '1100')`,
    );
  });
});
