import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import {
  chargesOf,
  CONVENTIONS,
  EMPTY_RULE,
  readShareGone,
  retire,
  type AssetHistory,
} from "./index";

const BOOKS = [{ id: 3, code: "TAX" }];
const YEARS = [{ first: "2026-01-01", last: "2026-12-31" }];
const engine = (more: Partial<AssetHistory> = {}): AssetHistory => ({
  inService: "2026-01-01",
  rules: { common: { ...EMPTY_RULE, life: 60 }, own: {} },
  costs: [{ book: 0, on: "2026-01-01", amount: minor(6_000_000n) }],
  takenOver: [],
  changes: [],
  accumulated: [{ book: 0, amount: minor(900_000n), last: "2026-09-30" }],
  ...more,
});

describe("an asset that is gone", () => {
  test("half an engine of 60,000 is sold in October after nine months: its part of 51,000 is 25,500; for 30,000 that is a gain of 4,500", () => {
    const gone = { on: "2026-10-20", share: { n: 1n, d: 2n }, proceeds: minor(3_000_000n) };
    expect(retire(engine(), BOOKS, gone, YEARS)).toEqual([
      { book: null, charge: 0n, cost: 3_000_000n, accumulated: 450_000n, result: 450_000n },
    ]);
  });
  test("scrapped by days it is charged up to the day before, in the tax book by its own rule", () => {
    const days = { ...EMPTY_RULE, life: 60, convention: "30/360" as const };
    const asset = engine({
      rules: { common: days, own: { TAX: { ...days, life: 30 } } },
      accumulated: [
        { book: 0, amount: minor(900_000n), last: "2026-09-30" },
        { book: 3, amount: minor(900_000n), last: "2026-09-30" },
      ],
    });
    const gone = { on: "2026-10-16", share: { n: 1n, d: 1n }, proceeds: minor(0n) };
    expect(retire(asset, BOOKS, gone, YEARS)).toEqual([
      { book: null, charge: 50_000n, cost: 6_000_000n, accumulated: 950_000n, result: -5_050_000n },
      { book: BOOKS[0], charge: 50_000n, cost: 0n, accumulated: 950_000n, result: -4_100_000n },
    ]);
  });
  test("a day before the newest charge takes back what was charged too much", () => {
    const gone = { on: "2026-08-05", share: { n: 1n, d: 1n }, proceeds: minor(0n) };
    expect(retire(engine(), BOOKS, gone, YEARS)[0]).toMatchObject({
      charge: -200_000n,
      accumulated: 700_000n,
    });
  });
  test("whatever share goes whenever: what is charged afterwards goes on from exactly what is left", () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: 1n, max: 99_999_999n }),
        fc.constantFrom(...CONVENTIONS),
        fc.integer({ min: 2, max: 7 }),
        fc.integer({ min: 1, max: 28 }),
        fc.integer({ min: 1, max: 6 }),
        (cost, convention, month, day, d) => {
          const rule = { ...EMPTY_RULE, life: 36, convention };
          const on = `2027-0${month}-${String(day).padStart(2, "0")}`;
          const share = { n: 1n, d: BigInt(d) };
          const before: AssetHistory = {
            ...engine(),
            rules: { common: rule, own: { TAX: { ...rule, life: 20 } } },
            costs: [{ book: 0, on: "2026-01-01", amount: minor(cost) }],
            accumulated: [],
          };
          const gone = retire(before, BOOKS, { on, share, proceeds: minor(0n) }, YEARS);
          const stands = (book: number) =>
            minor(
              gone.reduce(
                (t, g) => ((g.book?.id ?? 0) === book ? t + g.charge - g.accumulated : t),
                0n,
              ),
            );
          const after: AssetHistory = {
            ...before,
            changes: [{ book: 0, kind: "retired", on, share }],
            accumulated: [0, 3].map((book) => ({ book, amount: stands(book), last: null })),
          };
          const left = cost - gone[0]!.cost;
          const end = chargesOf(after, BOOKS, "2032-12-31", YEARS);
          expect(stands(0) + end[0]!.amount).toBe(left);
          expect(end[1]!.before + end[1]!.common + end[1]!.amount).toBe(left);
        },
      ),
    );
  });
  test("shares as people write them", () => {
    expect(["all", "1/2", "40 %", "12.5%"].map(readShareGone)).toEqual([
      { n: 1n, d: 1n },
      { n: 1n, d: 2n },
      { n: 400_000n, d: 1_000_000n },
      { n: 125_000n, d: 1_000_000n },
    ]);
    expect(["3/2", "0/5", "120 %", "0%", "half", "1/0"].map(readShareGone)).toEqual(
      Array.from({ length: 6 }, () => null),
    );
  });
});
