import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays, endOfMonth, minor, type CalendarDate } from "../../shared";
import { DEFERRAL_METHODS, earnedBy, monthsOf, readEarnedOver, toRelease } from "./index";

const SEASON = { from: "2026-11-01", to: "2027-10-31" };

describe("what was invoiced ahead", () => {
  test("by months: a season ticket of 1,200.00 earns 100.00 a month; one from the 15th has twelve months too (worked example)", () => {
    const by = (day: CalendarDate, of = SEASON) => earnedBy(minor(120_000n), of, "months", day);
    expect(by("2026-11-29")).toBe(0n);
    expect(by("2026-11-30")).toBe(10_000n);
    expect(by("2027-02-28")).toBe(40_000n);
    expect(by("2027-10-31")).toBe(120_000n);
    const middle = { from: "2026-11-15", to: "2027-11-14" };
    expect(monthsOf(middle)).toBe(12);
    expect(by("2026-11-30", middle)).toBe(10_000n);
    expect(by("2027-09-30", middle)).toBe(110_000n);
    expect(by("2027-10-31", middle)).toBe(120_000n);
    // The 31st has its months where months are shorter.
    expect(monthsOf({ from: "2026-08-31", to: "2027-02-27" })).toBe(6);
    expect(monthsOf({ from: "2026-11-05", to: "2026-11-05" })).toBe(1);
  });
  test("by days: 365.00 over a year earns 1.00 a day, also across 29 February", () => {
    const by = (day: CalendarDate) => earnedBy(minor(36_500n), SEASON, "days", day);
    expect(by("2026-10-31")).toBe(0n);
    expect(by("2026-11-01")).toBe(100n);
    expect(by("2026-11-30")).toBe(3_000n);
    expect(by("2028-01-01")).toBe(36_500n);
    const leap = { from: "2028-02-01", to: "2028-02-29" };
    expect(earnedBy(minor(2_900n), leap, "days", "2028-02-28")).toBe(2_800n);
  });
  test("comes to the whole amount in the end, never goes back, and a credit mirrors its invoice", () => {
    const day = fc.integer({ min: 0, max: 900 }).map((n) => addDays("2026-01-01", n));
    fc.assert(
      fc.property(
        fc.bigInt({ min: 1n, max: 9_999_999n }),
        day,
        fc.integer({ min: 0, max: 800 }),
        fc.array(day, { maxLength: 12 }),
        fc.constantFrom(...DEFERRAL_METHODS),
        (amount, from, length, days, method) => {
          const over = { from, to: addDays(from, length) };
          const of = (a: bigint, on: CalendarDate) => earnedBy(minor(a), over, method, on);
          let before = 0n;
          for (const on of days.sort()) {
            const now = of(amount, on);
            expect(now >= before && now <= amount).toBe(true);
            expect(of(-amount, on)).toBe(-now);
            before = now;
          }
          expect(of(amount, endOfMonth(over.to))).toBe(amount);
        },
      ),
    );
  });
  test("what was released by a later day is not taken back by an earlier one", () => {
    const of = (amount: bigint, day: CalendarDate, released: bigint) =>
      toRelease(minor(amount), SEASON, "months", day, minor(released));
    expect(of(120_000n, "2027-01-31", 10_000n)).toBe(20_000n);
    expect(of(120_000n, "2026-11-30", 30_000n)).toBe(0n);
    expect(of(-120_000n, "2027-01-31", -10_000n)).toBe(-20_000n);
    expect(of(-120_000n, "2026-11-30", -30_000n)).toBe(0n);
  });
  test("says at its cells what is wrong with its days", () => {
    const fault = (earnedFrom: string, earnedTo: string) =>
      readEarnedOver({ earnedFrom, earnedTo }, "2026-11-05").problem?.field;
    expect(fault("", "")).toBeUndefined();
    expect(fault("1 Nov 2026", "31 Oct 2027")).toBeUndefined();
    expect(fault("", "31 Oct 2027")).toBe("earnedFrom");
    expect(fault("soon", "31 Oct 2027")).toBe("earnedFrom");
    expect(fault("1 Nov 2026", "")).toBe("earnedTo");
    expect(fault("1 Nov 2026", "31 Oct 2026")).toBe("earnedTo");
  });
});
