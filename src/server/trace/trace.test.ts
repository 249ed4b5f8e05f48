import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, inject, test } from "vitest";
import { encodeTrace, type FigureRef } from "@/core/trace";
import { minor } from "@/core/shared";
import { callerOf, journal, must, runAs } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import "../closing";
import { accountView, postDrafts, trialBalance } from "../ledger";
import { postRun, proposeRun } from "../runs";
import { statement } from "../statements";
import { trace } from "./index";

const queries: string[] = [];
const w = world((q) => queries.push(q));
const place = { company: "ALP", book: "IFRS", period: "2026-03" };

beforeAll(async () => {
  const root = await callerOf(w.database, "root");
  const two = (
    date: string,
    debit: string,
    credit: string,
    amount: bigint,
    book: string | null = null,
  ) =>
    journal({
      date,
      book,
      lines: [debit, credit].map((account, i) => ({
        account,
        side: i === 0 ? ("debit" as const) : ("credit" as const),
        amount: minor(amount),
        description: "",
        dimensions: (/^[4-7]/.test(account) ? { costCentre: "VESS" } : {}) as Record<
          string,
          string
        >,
      })),
    });
  must(
    await runAs(root, (c) =>
      postDrafts(c, [
        two("2025-02-03", "1100", "4010", 900n),
        two("2025-11-03", "6410", "2410", 250n),
        two("2026-01-15", "1100", "4010", 700n),
        two("2026-02-15", "6410", "1100", 120n),
        two("2026-03-01", "6420", "1100", 33n),
        two("2026-03-02", "6410", "2410", 44n),
        two("2026-03-03", "1100", "4110", 500n),
        two("2026-03-05", "6410", "2410", 7n, "LOCAL"),
        two("2026-03-09", "1440", "1100", 60n),
      ]),
    ),
  );
  const run = must(
    await proposeRun(root, {
      kind: "year-end",
      params: { company: "ALP", year: "2025", book: "IFRS" },
    }),
  );
  must(await postRun(root, { key: run.number }));
});

/**
 * Walks down every way to the journals, checking at each station that its rows add up to what was
 * entered.
 */
async function walk(ref: FigureRef, path: string[], expected: bigint): Promise<number> {
  const result = must(
    await trace(await callerOf(w.database, "root"), {
      ...place,
      withClosing: false,
      trace: encodeTrace({ ref, path }),
    }),
  );
  const last = result.stations.at(-1)!;
  const journal = result.stations.find((x) => x.kind.endsWith(" journal"));
  if (journal) {
    expect(journal.rows.reduce((t, r) => t + r.amount, 0n)).toBe(0n);
    // Up again: the lines of the statements that the journal reaches hold it whole, profit and
    // position alike.
    expect(last.rows.length).toBeGreaterThan(0);
    return 1;
  }
  if (last.rows.length === 0) return 0;
  expect(last.rows.reduce((t, r) => t + r.amount, 0n)).toBe(expected);
  let journals = 0;
  for (const row of last.rows)
    if (row.step) journals += await walk(ref, [...path, row.step], row.amount);
  return journals;
}

describe("trace", () => {
  test("every figure of both statements and of the trial balance comes apart to the cent, down to balanced journals", async () => {
    const root = await callerOf(w.database, "root");
    let reached = 0;
    for (const code of ["income-statement", "balance-sheet"] as const) {
      const s = must(await statement(root, { ...place, code }));
      for (const line of s.lines)
        for (const [i, column] of s.columns.entries()) {
          const value = line.values[i];
          if (!value) continue;
          const ref: FigureRef = {
            kind: "statement",
            code,
            line: line.code,
            column: column.key,
            layout: "standard",
          };
          const opened = must(
            await trace(root, { ...place, trace: encodeTrace({ ref, path: [] }) }),
          );
          expect([code, line.code, column.key, opened.stations[0]!.amount]).toEqual([
            code,
            line.code,
            column.key,
            value,
          ]);
          if (
            ["result", "revenue", "total-assets", "equity", "vessel-maintenance"].includes(
              line.code,
            )
          )
            reached += await walk(ref, [], value);
        }
    }
    expect(reached).toBeGreaterThan(30);
    const balance = must(await trialBalance(root, place));
    // The embedded database takes its time, and knows no other figures than the server.
    const some = balance.rows.filter((_, i) => inject("server") || i % 4 === 0);
    for (const row of some)
      for (const measure of ["opening", "debit", "credit", "closing"] as const) {
        const opened = must(
          await trace(root, {
            ...place,
            trace: encodeTrace({
              ref: { kind: "balance", of: "account", code: row.account, measure },
              path: [],
            }),
          }),
        );
        expect([row.account, measure, opened.stations[0]!.amount]).toEqual([
          row.account,
          measure,
          row[measure],
        ]);
      }
  });

  test("the account view ends where the trial balance does, line by line", async () => {
    const root = await callerOf(w.database, "root");
    const {
      figures: [view],
      lines,
    } = must(await accountView(root, { ...place, from: "2026-01", account: "1100" }));
    expect(view!.opening).toBe(900n);
    expect(lines.at(-1)!.balance).toBe(view!.closing);
    expect(view!.closing).toBe(
      must(await trialBalance(root, place)).rows.find((r) => r.account === "1100")!.closing,
    );
  });

  test("ranges, lists and headings of accounts over several companies, in total and by currency, add up to the trial balance and to their trace", async () => {
    const root = await callerOf(w.database, "root");
    const isk = [
      { account: "1100", side: "debit" as const },
      { account: "1100", side: "credit" as const },
    ];
    must(
      await runAs(root, (c) =>
        postDrafts(c, [
          journal({
            date: "2026-03-14",
            currency: "ISK",
            lines: isk.map((l) => ({
              ...l,
              dimensions: {},
              description: "",
              amount: minor(695n),
              foreignAmount: minor(1000n),
              rate: "0.00695",
            })),
          }),
          journal({
            company: "BET",
            date: "2026-03-15",
            lines: isk.map((l) => ({ ...l, dimensions: {}, description: "", amount: minor(77n) })),
          }),
        ]),
      ),
    );
    for (const account of ["1100..1199", "1100,1120..1199,1110..1119", "110"]) {
      const view = must(
        await accountView(root, { ...place, from: "2026-01", account, companies: ["ALP", "BET"] }),
      );
      for (const f of view.figures) {
        const rows = must(
          await trialBalance(root, { ...place, company: f.company, from: "2026-01" }),
        ).rows.filter((r) => r.account.startsWith("11"));
        expect([account, f.company, f.currency, f.closing, f.debit]).toEqual([
          account,
          f.company,
          f.company === "ALP" ? "EUR" : "GBP",
          rows.reduce((t, r) => t + r.closing, 0n),
          rows.reduce((t, r) => t + r.debit, 0n),
        ]);
        expect(view.lines.filter((l) => l.company === f.company).at(-1)?.balance ?? f.opening).toBe(
          f.closing,
        );
        const march = f.periods.find((p) => p.period === "2026-03")!;
        expect(march.yearToDate).toBe(march.closing - f.periods[0]!.opening);
        for (const measure of ["opening", "debit", "credit", "closing"] as const) {
          const opened = must(
            await trace(root, {
              ...place,
              withClosing: true,
              trace: encodeTrace({
                ref: { kind: "month", account, period: "2026-03", measure, company: f.company },
                path: [],
              }),
            }),
          );
          expect([account, measure, opened.stations[0]!.amount]).toEqual([
            account,
            measure,
            march[measure],
          ]);
        }
      }
    }
    const byCurrency = must(
      await accountView(root, { ...place, from: "2026-01", account: "1100", amounts: "currency" }),
    );
    expect(byCurrency.figures.map((f) => [f.currency, f.debit])).toEqual(
      expect.arrayContaining([["ISK", 1000n]]),
    );
    for (const f of byCurrency.figures)
      expect(
        byCurrency.lines.filter((l) => l.currency === f.currency).at(-1)?.balance ?? f.opening,
      ).toBe(f.closing);
    expect((await accountView(root, { ...place, account: "1100,nothing" })).ok).toBe(false);
  });

  test("as known then, every figure lists the journals that have changed it since, and they add up to what it is now", async () => {
    const root = await callerOf(w.database, "root");
    const asKnown = new Date().toISOString();
    await new Promise((r) => setTimeout(r, 5));
    const later = (date: string, debit: string, credit: string, amount: bigint, closing = false) =>
      journal({
        date,
        type: closing ? "closing" : "general",
        lines: [debit, credit].map((account, i) => ({
          account,
          side: i === 0 ? ("debit" as const) : ("credit" as const),
          amount: minor(amount),
          description: "",
          dimensions: (/^[4-7]/.test(account) ? { costCentre: "VESS" } : {}) as Record<
            string,
            string
          >,
        })),
      });
    must(
      await runAs(root, (c) =>
        postDrafts(c, [
          later("2026-03-11", "6410", "2410", 17n),
          later("2026-01-20", "1100", "4010", 5n),
          later("2026-02-20", "6420", "1100", 8n),
        ]),
      ),
    );
    let changed = 0;
    for (const code of ["income-statement", "balance-sheet"] as const) {
      const then = must(await statement(root, { ...place, asKnown, code }));
      const now = must(await statement(root, { ...place, code }));
      for (const [n, line] of then.lines.entries())
        for (const [i, column] of then.columns.entries()) {
          if (line.values[i] === null || line.values[i] === undefined) continue;
          const opened = must(
            await trace(root, {
              ...place,
              asKnown,
              trace: encodeTrace({
                ref: {
                  kind: "statement",
                  code,
                  line: line.code,
                  column: column.key,
                  layout: "standard",
                },
                path: [],
              }),
            }),
          );
          const since = opened.stations[1]!;
          const sum = since.rows.reduce((t, r) => t + r.amount, 0n);
          expect([code, line.code, column.key, line.values[i] + sum]).toEqual([
            code,
            line.code,
            column.key,
            now.lines[n]!.values[i],
          ]);
          if (sum !== 0n) changed++;
        }
    }
    expect(changed).toBeGreaterThan(20);
  });

  test("a head of a branch sees the branch and nothing else", async () => {
    const budget = await callerOf(w.database, "budget");
    expect(must(await trialBalance(budget, place)).rows.every((r) => r.closing === 0n)).toBe(true);
    expect((await statement(budget, { ...place, code: "income-statement" })).ok).toBe(false);
    await w.database.db.execute(
      sql`update dimension_value set responsible_id = ${budget.person.id} where code = 'HARB'`,
    );
    must(
      await runAs(await callerOf(w.database, "root"), (c) =>
        postDrafts(c, [
          journal({
            date: "2026-03-12",
            lines: [
              {
                account: "6310",
                dimensions: { costCentre: "HARB" },
                description: "",
                side: "debit",
                amount: minor(60n),
              },
              {
                account: "6410",
                dimensions: { costCentre: "VESS" },
                description: "",
                side: "debit",
                amount: minor(40n),
              },
              {
                account: "2410",
                dimensions: {},
                description: "",
                side: "credit",
                amount: minor(100n),
              },
            ],
          }),
        ]),
      ),
    );
    const seen = must(await trialBalance(budget, place)).rows.filter((r) => r.closing !== 0n);
    expect(seen.map((r) => [r.account, r.closing])).toEqual([["6310", 60n]]);
    const opened = must(
      await trace(budget, {
        ...place,
        trace: encodeTrace({
          ref: { kind: "balance", of: "account", code: "6310", measure: "closing" },
          path: [],
        }),
      }),
    );
    expect(opened.stations.at(-1)!.rows.map((r) => [r.label.slice(0, 4), r.amount])).toEqual([
      ["6310", 60n],
    ]);
    expect((await trace(budget, { ...place, trace: "j!1" })).ok).toBe(false);
  });

  test("the number of queries of a report does not grow with its rows", async () => {
    const root = await callerOf(w.database, "root");
    const count = async (work: () => Promise<unknown>) => {
      queries.length = 0;
      await work();
      return queries.length;
    };
    const reports = [
      () => trialBalance(root, place),
      () => statement(root, { ...place, code: "income-statement" }),
      () => accountView(root, { ...place, account: "6410" }),
    ];
    const few = [];
    for (const r of reports) few.push(await count(r));
    must(
      await runAs(root, (c) =>
        postDrafts(
          c,
          Array.from({ length: 60 }, (_, i) =>
            journal({
              date: "2026-03-20",
              lines: [
                {
                  account: "6410",
                  dimensions: { costCentre: "HARB" },
                  description: "",
                  side: "debit",
                  amount: minor(BigInt(i + 1)),
                },
                {
                  account: ["2410", "2415", "2440", "1450"][i % 4]!,
                  dimensions: {},
                  description: "",
                  side: "credit",
                  amount: minor(BigInt(i + 1)),
                },
              ],
            }),
          ),
        ),
      ),
    );
    const many = [];
    for (const r of reports) many.push(await count(r));
    expect(many).toEqual(few);
  });
});
