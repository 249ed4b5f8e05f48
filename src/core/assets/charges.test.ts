import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import { byUse, chargesOf, EMPTY_RULE, type AssetHistory } from "./index";

const BOOKS = [
  { id: 1, code: "IFRS" },
  { id: 2, code: "LOCAL" },
  { id: 3, code: "TAX" },
];
const YEARS = [{ first: "2026-01-01", last: "2026-12-31" }];
const crane: AssetHistory = {
  inService: "2026-01-01",
  rules: {
    common: { ...EMPTY_RULE, life: 60 },
    own: {
      TAX: { ...EMPTY_RULE, method: "declining balance", life: 60, rate: "40", switches: true },
    },
  },
  costs: [{ book: 0, on: "2026-01-01", amount: minor(6_000_000n) }],
  takenOver: [],
  changes: [],
  accumulated: [],
};
const charges = (asset: AssetHistory, day: string) =>
  chargesOf(asset, BOOKS, day, YEARS).map((c) => [c.book?.code ?? "all", c.amount]);

describe("what is charged", () => {
  test("once for all books, and in the tax book what its own rule has more (worked example)", () => {
    // 60,000.00 over five years is 1,000.00 a month; 40 % of it is 2,000.00 a month in the first.
    expect(charges(crane, "2026-01-31")).toEqual([
      ["all", 100_000n],
      ["TAX", 100_000n],
    ]);
    const charged = {
      ...crane,
      accumulated: [
        { book: 0, amount: minor(100_000n), last: "2026-01-31" },
        { book: 3, amount: minor(100_000n), last: "2026-01-31" },
      ],
    };
    // February was missed: March has both.
    expect(charges(charged, "2026-03-31")).toEqual([
      ["all", 200_000n],
      ["TAX", 200_000n],
    ]);
    // A month before one that is charged already has nothing.
    expect(charges(charged, "2025-12-31").map(([, amount]) => amount)).toEqual([0n, 0n]);
  });
  test("later the tax book takes back what it had more, and each book ends at its cost", () => {
    const at = (day: string, books: readonly [number, bigint][]) =>
      charges(
        {
          ...crane,
          accumulated: books.map(([book, amount]) => ({
            book,
            amount: minor(amount),
            last: null,
          })),
        },
        day,
      );
    expect(at("2030-12-31", [])).toEqual([
      ["all", 6_000_000n],
      ["TAX", 0n],
    ]);
    expect(
      at("2030-12-31", [
        [0, 4_800_000n],
        [3, 720_000n],
      ]),
    ).toEqual([
      ["all", 1_200_000n],
      ["TAX", -720_000n],
    ]);
  });
  test("what costs something in one book only is charged there by the rule of all", () => {
    const asset: AssetHistory = {
      ...crane,
      rules: { common: crane.rules.common, own: {} },
      costs: [{ book: 2, on: "2026-01-01", amount: minor(60_000n) }],
    };
    expect(charges(asset, "2026-01-31")).toEqual([
      ["all", 0n],
      ["LOCAL", 1_000n],
    ]);
  });
});

describe("by whom it was used", () => {
  const centre = (from: string, code: string) => ({ from, dimensions: { costCentre: code } });
  const parts = (amount: bigint, from: string, to: string) =>
    byUse(
      minor(amount),
      [centre("2026-01-01", "A"), centre("2026-10-11", "B"), centre("2026-10-31", "C")],
      from,
      to,
    ).map((p) => [p.dimensions.costCentre, p.amount]);
  test("a month with transfers is split by days: 10, 20 and 1 of 31", () => {
    expect(parts(3_100n, "2026-10-01", "2026-10-31")).toEqual([
      ["A", 1_000n],
      ["B", 2_000n],
      ["C", 100n],
    ]);
    expect(parts(3_100n, "2026-09-01", "2026-09-30")).toEqual([["A", 3_100n]]);
    expect(parts(3_100n, "2025-09-01", "2025-09-30")).toEqual([["A", 3_100n]]);
  });
  test("no cent is lost, whatever the amount", () => {
    fc.assert(
      fc.property(fc.bigInt({ min: -99_999n, max: 99_999n }), (amount) => {
        const sum = parts(amount, "2026-10-01", "2026-10-31").reduce(
          (t, [, a]) => t + BigInt(a!),
          0n,
        );
        expect(sum).toBe(amount);
      }),
    );
  });
});
