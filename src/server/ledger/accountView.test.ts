import { beforeAll, expect, test } from "vitest";
import { callerOf, codes, must, written } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { encodeTrace } from "@/core/trace";
import { trace } from "../trace";
import { accountView, createJournal, trialBalance } from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const post = async (date: string, amount: string, more: Record<string, unknown> = {}) =>
  must(
    await createJournal(await callerOf(w.database, "accountant"), {
      ...written({
        date,
        lines: [
          { account: "6310", dimensions: { costCentre: "HARB" }, debit: amount },
          { account: "2410", credit: amount },
        ],
        ...more,
      }),
      post: true,
    }),
  );
const view = async (account: string, from: string | undefined, period: string, more: object = {}) =>
  accountView(await root(), { company: "ALP", account, from, period, ...more });

beforeAll(async () => {
  await post("2025-11-10", "100.00");
  await post("2025-12-10", "10.00");
  await post("2026-01-10", "1.00");
  await post("2026-02-10", "0.10");
});

test("a range over the year's edge shows both years; a balance runs on, a result begins anew", async () => {
  const owed = must(await view("2410", "2025-12", "2026-02"));
  expect(owed.figures[0]).toMatchObject({
    opening: -10000n,
    debit: 0n,
    credit: 1110n,
    closing: -11110n,
  });
  expect(owed.figures[0]!.periods.map((p) => p.name)).toContain("Nov 2025");
  expect(owed.lines.map((l) => [l.period, l.balance])).toEqual([
    ["2025-12", -11000n],
    ["2026-01", -11100n],
    ["2026-02", -11110n],
  ]);
  const cost = must(await view("6310", "2025-11", "2026-02"));
  expect(cost.lines.map((l) => l.balance)).toEqual([10000n, 11000n, 100n, 110n]);
  expect(cost.figures[0]!.closing).toBe(110n);
  // One year alone is as it was.
  expect(must(await view("2410", "2026-01", "2026-02")).lines).toHaveLength(2);
  expect(must(await view("2410", undefined, "2025-13")).lines).toHaveLength(0);
});

test("each figure of a range over years comes apart", async () => {
  for (const [period, amount] of [
    ["2025-12", "-110.00"],
    ["2026-02", "-111.10"],
  ])
    expect(
      must(
        await trace(await root(), {
          company: "ALP",
          from: "2025-11",
          period: "2026-02",
          trace: encodeTrace({
            ref: { kind: "month", account: "2410", period: period!, measure: "closing" },
            path: [],
          }),
          withClosing: true,
        }),
      ).stations[0],
    ).toMatchObject({ amount: BigInt(amount!.replace(".", "")) });
});

test("a range that is turned round, or that a report does not take, is said and not dropped", async () => {
  expect(codes(await view("2410", "2026-02", "2025-12"))).toEqual(["INVALID"]);
  expect(
    codes(await trialBalance(await root(), { company: "ALP", from: "2025-12", period: "2026-02" })),
  ).toEqual(["INVALID"]);
});

test("by currency each line has its own, and each currency what it opened with", async () => {
  for (const [date, debit] of [
    ["2025-12-11", "50.00"],
    ["2026-01-11", "7.00"],
  ])
    must(
      await createJournal(await callerOf(w.database, "accountant"), {
        ...written({
          date,
          currency: "USD",
          rate: "0.5",
          lines: [
            { account: "6310", dimensions: { costCentre: "HARB" }, debit },
            { account: "2410", credit: debit },
          ],
        }),
        post: true,
      }),
    );
  const found = must(await view("2410", undefined, "2026-01", { amounts: "currency" }));
  expect(found.figures.map((f) => [f.currency, f.opening, f.closing]).sort()).toEqual([
    ["EUR", -11000n, -11100n],
    ["USD", -5000n, -5700n],
  ]);
  expect(found.lines.map((l) => [l.currency, l.amount, l.balance])).toEqual([
    ["EUR", 100n, -11100n],
    ["USD", 700n, -5700n],
  ]);
});
