import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { daysByCountBack, daysSalesOutstanding, tenthsText } from "./index";

describe("days sales outstanding", () => {
  test("simple: what is open, of what was sold, times the days", () => {
    const quarter = [
      { sales: 100n, days: 31 },
      { sales: 120n, days: 30 },
      { sales: 80n, days: 31 },
    ];
    expect(daysSalesOutstanding(150n, quarter)).toBe(460n);
    expect(daysSalesOutstanding(-5n, quarter)).toBe(0n);
    expect(daysSalesOutstanding(150n, [{ sales: 0n, days: 30 }])).toBeNull();
  });

  test("counted back: month by month from the newest, the last one in proportion", () => {
    const months = [
      { sales: 100n, days: 30 },
      { sales: 100n, days: 31 },
      { sales: 50n, days: 30 },
    ];
    expect(daysByCountBack(0n, months)).toBe(0n);
    expect(daysByCountBack(100n, months)).toBe(300n);
    expect(daysByCountBack(150n, months)).toBe(455n);
    expect(daysByCountBack(250n, months)).toBe(910n);
    expect(daysByCountBack(251n, months)).toBeNull();
    // A month without sales still has its days.
    expect(
      daysByCountBack(10n, [
        { sales: 0n, days: 30 },
        { sales: 20n, days: 30 },
      ]),
    ).toBe(450n);
  });

  test("of steady sales both ways come to the same; more open is never fewer days", () => {
    const sales = fc.bigInt({ min: 1n, max: 10n ** 9n });
    fc.assert(
      fc.property(
        sales,
        fc.integer({ min: 0, max: 3000 }),
        fc.integer({ min: 0, max: 3000 }),
        (s, a, b) => {
          const months = Array.from({ length: 4 }, () => ({ sales: s * 1000n, days: 30 }));
          const [less, more] = a < b ? [a, b] : [b, a];
          const back = (of: number) => daysByCountBack(s * BigInt(of), months)!;
          expect(back(more) >= back(less)).toBe(true);
          expect(back(more)).toBe(daysSalesOutstanding(s * BigInt(more), months));
        },
      ),
    );
    expect([tenthsText(455n), tenthsText(7n), tenthsText(-12n)]).toEqual(["45.5", "0.7", "-1.2"]);
  });
});
