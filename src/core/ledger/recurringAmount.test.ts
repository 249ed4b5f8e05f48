import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { readAmount } from "../shared";
import { journalInput } from "./journalInput";
import { computeRecurring, readAmountRule, wantedOf } from "./recurringAmount";

const line = (account: string, debit: string, credit: string, costCentre = "") => ({
  account,
  debit,
  credit,
  dimensions: (costCentre ? { costCentre } : {}) as Record<string, string>,
  description: "",
});
const entry = (...lines: ReturnType<typeof line>[]) =>
  journalInput({ company: "ALP", type: "general", lines });
const sides = (content: ReturnType<typeof entry>) =>
  content.lines.map((l) => `${l.account} ${l.debit || "-"} ${l.credit || "-"}`);
const none = new Map<number, string>();

describe("readAmountRule", () => {
  test.each([
    ["1,250.00", { kind: "fixed" }],
    ["?", { kind: "asked" }],
    [
      "4% of 4010",
      {
        kind: "percent",
        percent: "4",
        source: { from: "4010", to: "4010", value: null, over: "month" },
      },
    ],
    [
      "2.5 % of 4010..4090 in ROUTES over last month",
      {
        kind: "percent",
        percent: "2.5",
        source: { from: "4010", to: "4090", value: "ROUTES", over: "last month" },
      },
    ],
    [
      "0.35 per 9010 year",
      {
        kind: "per",
        price: "0.35",
        source: { from: "9010", to: "9010", value: null, over: "year" },
      },
    ],
    [
      "rest by 9010 balance",
      { kind: "rest", by: { from: "9010", to: "9010", value: null, over: "balance" } },
    ],
    ["Rest", { kind: "rest", by: null }],
    ["4 percent of 4010", null],
    ["4% of 4010 in", null],
    ["4% of", null],
  ])("%s", (text, rule) => expect(readAmountRule(text)).toEqual(rule));
});

describe("computeRecurring", () => {
  test("4 % of a month's fares to the islands' fund, rounded once (worked example: 4 % of 123,456.37 is 4,938.2548)", () => {
    const result = computeRecurring(
      entry(line("6310", "4% of 4010", ""), line("2410", "", "rest")),
      "EUR",
      () => 12_345_637n,
      none,
    );
    expect(sides(result.content)).toEqual(["6310 4,938.25 -", "2410 - 4,938.25"]);
    expect(result.steps[0]).toEqual({ label: "6310: 4% of 4010", text: "123,456.37" });
  });
  test("dues per passenger, shared over cost centres by passengers carried", () => {
    const content = entry(
      line("2410", "", "0.35 per 9010"),
      line("6310", "rest by 9010", "", "NORTH"),
      line("6310", "rest by 9010", "", "SOUTH"),
    );
    expect(wantedOf(content).map((w) => w.values)).toEqual([
      {},
      { costCentre: "NORTH" },
      { costCentre: "SOUTH" },
    ]);
    const carried: Record<string, bigint> = {
      "": 100_001_000n,
      NORTH: 66_667_000n,
      SOUTH: 33_334_000n,
    };
    const result = computeRecurring(
      content,
      "EUR",
      (w) => carried[w.values.costCentre ?? ""]!,
      none,
    );
    // 100,001 × 0.35 = 35,000.35, of which 66,667 parts of 100,001.
    expect(sides(result.content)).toEqual([
      "2410 - 35,000.35",
      "6310 23,333.45 -",
      "6310 11,666.90 -",
    ]);
  });
  test("a negative balance goes to the other side, and a line of nothing is left out", () => {
    const content = entry(
      line("6310", "10% of 4010", ""),
      line("6320", "5% of 4020", ""),
      line("2410", "", "rest"),
    );
    const result = computeRecurring(
      content,
      "EUR",
      (w) => (w.source.from === "4010" ? -5000n : 0n),
      none,
    );
    expect(sides(result.content)).toEqual(["6310 - 5.00", "2410 5.00 -"]);
  });
  test("an amount that is asked for holds everything back until it is given", () => {
    const content = entry(line("6310", "?", ""), line("2410", "", "rest"));
    expect(computeRecurring(content, "EUR", () => 0n, none).asked).toEqual([0]);
    expect(computeRecurring(content, "EUR", () => 0n, new Map([[0, "abc"]]))).toMatchObject({
      asked: [0],
      problems: [{ code: "AMOUNT_NOT_NUMBER" }],
    });
    const given = computeRecurring(content, "EUR", () => 0n, new Map([[0, "1,234.50"]]));
    expect([given.asked, sides(given.content)]).toEqual([
      [],
      ["6310 1,234.50 -", "2410 - 1,234.50"],
    ]);
  });
  test("nothing can be shared by balances that are all zero", () => {
    expect(
      computeRecurring(
        entry(line("6310", "100.00", ""), line("2410", "", "rest by 9010")),
        "EUR",
        () => 0n,
        none,
      ).problems,
    ).toMatchObject([{ code: "INVALID" }]);
  });
  test("what is left always balances the journal, whatever the balances are", () => {
    fc.assert(
      fc.property(
        fc.bigInt(-(10n ** 12n), 10n ** 12n),
        fc.array(fc.bigInt(0n, 10n ** 9n), { minLength: 1, maxLength: 8 }),
        fc.integer({ min: 1, max: 9999 }),
        (base, weights, percent) => {
          fc.pre(weights.some((w) => w > 0n));
          const content = entry(
            line("6310", `${percent / 100}% of 4010`, ""),
            line("6320", "12.34", ""),
            ...weights.map((_, i) => line("2410", "", "rest by 9010", String(i))),
          );
          const result = computeRecurring(
            content,
            "EUR",
            (w) => (w.source.from === "4010" ? base : weights[Number(w.values.costCentre)]!),
            none,
          );
          const total = (side: "debit" | "credit") =>
            result.content.lines.reduce((t, l) => {
              const r = readAmount(l[side], "EUR");
              return r.ok ? t + r.amount : t;
            }, 0n);
          expect(total("debit")).toBe(total("credit"));
        },
      ),
    );
  });
});
