import { beforeAll, describe, expect, inject, test } from "vitest";
import type { ListPage } from "@/core/lists";
import { dateText } from "@/core/shared";
import { callerOf, codes, must, written } from "../../../../tests/world";
import { thingsOfAlpha } from "../../../../tests/thingsOfAlpha";
import { world } from "../../../../tests/useWorld";
import type { Caller, UseCase } from "../../access";
import { createJournal, listBatches, listJournals, saveDraft } from "../../ledger";
import { listPayments } from "../../banks";
import { listInvoices } from "../../payables";
import { listOrders, listGoodsReceipts } from "../../purchasing";
import { listRuns } from "../../runs";

const w = world();
let root: Caller;

type Row = Record<string, unknown> & { id: number };
const LISTS: Record<string, UseCase<ListPage<Row>>> = {
  journals: listJournals,
  batches: listBatches,
  invoices: listInvoices,
  orders: listOrders,
  "goods receipts": listGoodsReceipts,
  payments: listPayments,
  runs: listRuns,
};
const whole = async (list: UseCase<ListPage<Row>>, asked: object = {}): Promise<ListPage<Row>> =>
  must(await list(root, { company: "ALP", limit: 5000, ...asked }));

beforeAll(async () => {
  root = await callerOf(w.database, "root");
  for (const [i, date] of ["2026-10-01", "2026-10-31", "", "2026-09-30", "2026-10-31"].entries())
    must(await saveDraft(root, { content: written({ description: `Draft ${i}`, date }) }));
  for (const description of ["100 % of it", "under_score", "Éclair", "a"])
    must(await createJournal(root, { ...written({ description }), post: true }));
  for (const currency of ["JPY", "KWD"]) {
    const lines = written().lines.map((l) => ({
      ...l,
      debit: l.debit ? "1200" : "",
      credit: l.credit ? "1200" : "",
    }));
    must(
      await saveDraft(root, {
        content: { ...written({ description: "decimals" }), currency, lines },
      }),
    );
  }
  must(
    await createJournal(root, {
      ...written({ company: "BET", description: "of the other" }),
      post: true,
    }),
  );
  await thingsOfAlpha(w.database);
});

describe.each(Object.entries(LISTS))("the list of %s", (_name, list) => {
  test("by whatever column and in pages of whatever size: each row once, in one order", async () => {
    const all = await whole(list);
    // What is found for the rows shown alone is no column of the list.
    const columns = Object.entries(all.rows[0]!)
      .filter(([key, value]) => key !== "id" && !Array.isArray(value))
      .map(([key]) => key);
    expect(all.rows.length).toBe(all.count);
    expect(all.count).toBeGreaterThan(0);
    for (const sort of ["", ...columns.flatMap((c) => [c, `-${c}`])])
      for (const limit of inject("server") ? [1, 3] : [2]) {
        const sorted = (await whole(list, { sort })).rows.map((r) => r.id);
        expect([...sorted].sort((a, b) => a - b)).toEqual(
          all.rows.map((r) => r.id).sort((a, b) => a - b),
        );
        const paged: number[] = [];
        for (let after: string | null = ""; after !== null;) {
          const page: ListPage<Row> = must(
            await list(root, { company: "ALP", sort, limit, after }),
          );
          paged.push(...page.rows.map((r) => r.id));
          after = page.next;
        }
        expect([sort, limit, paged]).toEqual([sort, limit, sorted]);
      }
  });

  test("its sums are those of its rows that count, by currency, whatever is filtered", async () => {
    for (const row of (await whole(list)).rows)
      for (const asked of [{}, { status: row.status }, { text: String(row.number ?? "draft") }]) {
        const found = await whole(list, asked);
        const sums = found.totals.flatMap((t) =>
          Object.entries(t.sums).map(([key, sum]) => [t.currency, key, sum]),
        );
        for (const [currency, key, sum] of sums) {
          const own = found.rows
            .filter((r) => r.currency === currency && COUNTS.has(String(r.status)))
            .reduce((total, r) => total + ((r[String(key)] as bigint | null) ?? 0n), 0n);
          expect([currency, key, own]).toEqual([currency, key, sum]);
        }
      }
  });
});

/** Where the rows of this world count. */
const COUNTS = new Set(["posted", "open", "closed", "sent", "cleared"]);

describe("filters", () => {
  test("a state is found, and ordered, by the word that people read, not by its code", async () => {
    const states = async (list: UseCase<ListPage<Row>>, status: string) =>
      new Set((await whole(list, { filters: { status } })).rows.map((r) => r.status));
    expect(await states(listOrders, "In force")).toEqual(new Set(["open"]));
    expect(await states(listOrders, "Open")).toEqual(new Set());
    expect(await states(listJournals, "draft")).toEqual(new Set(["draft"]));
    expect(await states(listJournals, "%")).toEqual(new Set());
  });
  test("the functional amount is that of the journal, found in its own decimals; the period is the journal's", async () => {
    const { rows: invoices } = await whole(listInvoices);
    for (const i of invoices) {
      expect(i.functional).toBe(i.number === null ? null : i.amount);
      const [, month, year] = dateText(String(i.date)).split(" ");
      expect(i.period).toBe(i.number === null ? "" : `${month} ${year}`);
    }
    const found = await whole(listInvoices, { filters: { functional: ">0", period: "sep" } });
    expect(found.count).toBe(
      invoices.filter(
        (i) => ((i.functional as bigint) ?? 0n) > 0n && String(i.period).startsWith("Sep"),
      ).length,
    );
    expect(found.count).toBeGreaterThan(0);
  });
  test("text anywhere in the column, special characters as they are", async () => {
    const found = async (description: string) =>
      (await whole(listJournals, { filters: { description } })).rows.map((r) => r.description);
    expect(await found("0 %")).toEqual(["100 % of it"]);
    expect(await found("r_s")).toEqual(["under_score"]);
    expect(await found("Écla")).toEqual(["Éclair"]);
  });

  test("days and amounts as they are shown; amounts by bounds too", async () => {
    const dates = (await whole(listJournals, { filters: { date: "31 Oct" } })).rows;
    expect(new Set(dates.map((r) => r.date))).toEqual(new Set(["2026-10-31"]));
    const all = (await whole(listInvoices)).rows.map((r) => r.amount as bigint);
    for (const [typed, meets] of [
      [">100", (a: bigint) => a > 10_000n],
      ["<= 100.00", (a: bigint) => a <= 10_000n],
      ["100..123", (a: bigint) => a >= 10_000n && a <= 12_300n],
    ] as const)
      expect((await whole(listInvoices, { filters: { amount: typed } })).count).toBe(
        all.filter(meets).length,
      );
    expect((await whole(listJournals, { filters: { amount: "48,200.00" } })).count).toBeGreaterThan(
      5,
    );
  });

  test("amounts of a currency with other decimals are read and found in its own", async () => {
    const found = async (amount: string) =>
      (await whole(listJournals, { filters: { amount }, text: "decimals" })).rows
        .map((r) => r.currency)
        .sort();
    expect(await found("1,200")).toEqual(["JPY", "KWD"]);
    expect(await found("1,200.000")).toEqual(["KWD"]);
    expect(await found(">1200")).toEqual([]);
    expect(await found("1200..1200")).toEqual(["JPY", "KWD"]);
  });

  test("another company's documents are in no list, whatever is asked", async () => {
    expect((await whole(listJournals, { text: "of the other" })).count).toBe(0);
    const [own] = (await whole(listJournals, { company: "BET", text: "of the other" })).rows;
    const place = Buffer.from(JSON.stringify(["false", "infinity", String(own!.id + 1)]));
    const on = await whole(listJournals, { after: place.toString("base64url") });
    expect(on.rows.map((r) => r.id)).not.toContain(own!.id);
    const beta = await callerOf(w.database, "root");
    expect(codes(await listJournals(beta, { company: "XXX" }))).toEqual(["COMPANY_UNKNOWN"]);
  });

  test("a column that there isn't, and a place that no list gave, are refused", async () => {
    for (const asked of [
      { sort: "secret" },
      { sort: "-constructor" },
      { filters: { secret: "x" } },
      { filters: { toString: "x" } },
    ])
      expect(codes(await listJournals(root, { company: "ALP", ...asked }))).toEqual(["NOT_FOUND"]);
    const place = (parts: unknown) => Buffer.from(JSON.stringify(parts)).toString("base64url");
    for (const after of [
      "x",
      place(["true", "2026-02-30", "1"]),
      place(["true", "2026-10-01", "1; --"]),
      place(["true", "2026-10-01"]),
      place({}),
    ])
      expect(codes(await listJournals(root, { company: "ALP", after }))).toEqual(["INVALID"]);
  });
});
