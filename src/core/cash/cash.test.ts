import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays, dayOfWeek, minor } from "../shared";
import {
  cashForecast,
  daySteps,
  expectedDays,
  monthlyDays,
  shortageOf,
  weekSteps,
  type CashFlow,
  type PayingHabit,
} from "./index";

const TODAY = "2026-11-05";

describe("expectedDays", () => {
  const habit = (early: number, usual: number, late: number, settled = 12): PayingHabit => ({
    settled,
    early,
    usual,
    late,
  });
  const days = (due: string, of?: PayingHabit) => {
    const { early, usual, late } = expectedDays(due, of, TODAY);
    return [early, usual, late];
  };

  test("a partner is expected to pay as late as it usually does", () => {
    expect(days("2026-11-20", habit(-2, 5, 12))).toEqual([
      "2026-11-18",
      "2026-11-25",
      "2026-12-02",
    ]);
    expect(expectedDays("2026-11-20", habit(-2, 5, 12), TODAY).why).toBe(
      "Due 20 Nov 2026; the last 12 items were settled 5 days late",
    );
  });
  test("of whom nothing is known it is expected when it is due", () => {
    expect(days("2026-11-20")).toEqual(["2026-11-20", "2026-11-20", "2026-12-04"]);
    expect(days("2026-11-20", habit(30, 40, 50, 2))).toEqual(days("2026-11-20"));
  });
  test("nothing is expected in the past: what is overdue, and not later than usual, comes then", () => {
    expect(days("2026-11-01", habit(-3, 10, 20))).toEqual([
      "2026-11-06",
      "2026-11-11",
      "2026-11-21",
    ]);
  });
  test("what is later than usual is expected within a week, or four", () => {
    expect(days("2026-09-01", habit(0, 10, 20))).toEqual([
      "2026-11-06",
      "2026-11-12",
      "2026-12-03",
    ]);
    expect(expectedDays("2026-09-01", undefined, TODAY).why).toMatch(/later than usual/);
  });
  test("the days stand in their order, whatever the habit and the due date", () =>
    fc.assert(
      fc.property(
        fc.integer({ min: -400, max: 400 }),
        fc.tuple(fc.integer(), fc.integer(), fc.integer()).map((q) => q.map((n) => n % 90)),
        fc.nat(9),
        (due, quartiles, settled) => {
          const [early, usual, late] = [...quartiles].sort((a, b) => a - b) as [
            number,
            number,
            number,
          ];
          const of = expectedDays(addDays(TODAY, due), { settled, early, usual, late }, TODAY);
          expect(TODAY < of.early && of.early <= of.usual && of.usual <= of.late).toBe(true);
        },
      ),
    ));
});

describe("steps", () => {
  test("weeks end on Sundays and follow each other without a gap, from whatever day", () =>
    fc.assert(
      fc.property(fc.nat(400), (n) => {
        const today = addDays(TODAY, n);
        const weeks = weekSteps(today, 13);
        expect(weeks[0]!.from).toBe(addDays(today, 1));
        for (const [i, w] of weeks.entries()) {
          expect(dayOfWeek(w.to)).toBe(0);
          if (i > 0) expect(w.from).toBe(addDays(weeks[i - 1]!.to, 1));
        }
      }),
    ));
});

describe("cashForecast", () => {
  const flow = (amount: bigint, early: string, usual = early, late = usual): CashFlow => ({
    source: "receivables",
    amount: minor(amount),
    early,
    usual,
    late,
  });
  const steps = daySteps(TODAY, 3);

  test("the band: at the least money comes late and goes early", () => {
    const of = cashForecast(
      minor(100n),
      [flow(50n, "2026-11-06", "2026-11-07", "2026-11-09"), flow(-120n, "2026-11-07")],
      steps,
    );
    expect(of.map((s) => [s.in, s.out, s.closing, s.low, s.high])).toEqual([
      [0n, 0n, 100n, 100n, 150n],
      [50n, -120n, 30n, -20n, 30n],
      [0n, 0n, 30n, -20n, 30n],
    ]);
    expect(shortageOf(of, minor(0n))).toMatchObject({
      expected: null,
      possible: { from: "2026-11-07" },
    });
    expect(shortageOf(of, minor(40n)).expected?.from).toBe("2026-11-07");
  });

  test("what is held at the end is what was held and all that is expected by then; the band holds it", () => {
    const day = fc.integer({ min: -5, max: 30 }).map((n) => addDays(TODAY, n));
    const flows = fc.array(
      fc
        .tuple(fc.bigInt({ min: -(10n ** 12n), max: 10n ** 12n }), day, day, day)
        .map(([amount, ...days]) => {
          const [early, usual, late] = days.sort() as [string, string, string];
          return flow(amount, early, usual, late);
        }),
      { maxLength: 40 },
    );
    fc.assert(
      fc.property(flows, fc.boolean(), (all, byWeek) => {
        const within = byWeek ? weekSteps(TODAY, 3) : daySteps(TODAY, 14);
        const of = cashForecast(minor(1_000n), all, within);
        const last = within.at(-1)!.to;
        expect(of.at(-1)!.closing).toBe(
          1_000n + all.filter((f) => f.usual <= last).reduce((t, f) => t + f.amount, 0n),
        );
        for (const s of of) expect(s.low <= s.closing && s.closing <= s.high).toBe(true);
      }),
    );
  });
});

describe("monthlyDays", () => {
  test.each([
    ["2026-02-10", 31, "2026-04-30", ["2026-02-28", "2026-03-31", "2026-04-30"]],
    ["2024-02-28", 30, "2024-03-29", ["2024-02-29"]],
    ["2026-12-31", 31, "2027-01-31", ["2027-01-31"]],
    ["2026-11-05", 5, "2026-12-04", []],
  ])("after %s on day %i up to %s", (today, day, upTo, days) =>
    expect(monthlyDays(today, day, upTo)).toEqual(days),
  );

  test("comes once in each month, never today or before, and never later than asked", () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 3000 }),
        fc.integer({ min: 1, max: 31 }),
        fc.integer({ min: 0, max: 200 }),
        (from, day, span) => {
          const today = addDays("2024-01-01", from);
          const days = monthlyDays(today, day, addDays(today, span));
          expect(new Set(days.map((d) => d.slice(0, 7))).size).toBe(days.length);
          expect(days.every((d) => d > today && d <= addDays(today, span))).toBe(true);
          expect(days.length >= Math.floor(span / 31) - 1).toBe(true);
        },
      ),
    ));
});
