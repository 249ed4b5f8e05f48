import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays, endOfMonth, minor, type CalendarDate } from "../shared";
import {
  CONVENTIONS,
  DEPRECIATION_METHODS,
  EMPTY_RULE,
  fiscalYearOf,
  fullyChargedBy,
  plannedCharges,
  standingOn,
  type DepreciationRule,
  type FiscalSpan,
  type Valuation,
  type ValuationEvent,
} from "./index";

/** Years that go on as calendar years. */
const CALENDAR: FiscalSpan[] = [{ first: "2026-01-01", last: "2026-12-31" }];
const rule = (more: Partial<DepreciationRule>): DepreciationRule => ({ ...EMPTY_RULE, ...more });
const bought = (
  cost: bigint,
  inService: CalendarDate,
  more: Partial<DepreciationRule>,
): Valuation => ({
  rule: rule(more),
  inService,
  events: [{ kind: "cost", on: inService, amount: minor(cost) }],
});
const charged = (v: Valuation, day: CalendarDate, years = CALENDAR) =>
  standingOn(v, day, years).accumulated;
/** What each calendar year is charged, from the first one on. */
const byYear = (v: Valuation, first: number, count: number, years = CALENDAR) =>
  Array.from(
    { length: count },
    (_, i) => charged(v, `${first + i}-12-31`, years) - charged(v, `${first + i - 1}-12-31`, years),
  );

describe("worked examples", () => {
  test("straight line (IAS 16.62): 12,000 with 2,000 left after five years is 2,000 a year, 166.67 in the first month", () => {
    const v = bought(1_200_000n, "2026-01-01", { life: 60, residual: "16.6667" });
    expect(byYear(v, 2026, 6)).toEqual([200_000n, 200_000n, 200_000n, 200_000n, 200_000n, 0n]);
    expect(charged(v, "2026-01-31")).toBe(16_667n);
    expect(charged(v, "2026-01-30")).toBe(0n);
  });
  test("sum of the years' digits: 15,000 over five years is 5,000, 4,000, 3,000, 2,000, 1,000", () => {
    const v = bought(1_500_000n, "2026-01-01", { method: "sum of digits", life: 60 });
    expect(byYear(v, 2026, 5)).toEqual([500_000n, 400_000n, 300_000n, 200_000n, 100_000n]);
    // From July on, each year of use lies in two fiscal years.
    const july = { ...v, inService: "2026-07-01" };
    expect(byYear(july, 2026, 3)).toEqual([250_000n, 450_000n, 350_000n]);
  });
  test("declining balance, 200 %, five years, half year, going over to straight line: the per cents of the IRS's Publication 946, table A-1", () => {
    const v = bought(10_000_00n, "2026-05-20", {
      method: "declining balance",
      convention: "half year",
      life: 60,
      rate: "40",
      switches: true,
    });
    expect(byYear(v, 2026, 6)).toEqual([
      2_000_00n,
      3_200_00n,
      1_920_00n,
      1_152_00n,
      1_152_00n,
      576_00n,
    ]);
  });
  test("the same in the middle of the first and of the last quarter: tables A-2 and A-5", () => {
    const of = (day: CalendarDate) =>
      byYear(
        bought(10_000_00n, day, {
          method: "declining balance",
          convention: "mid-quarter",
          life: 60,
          rate: "40",
          switches: true,
        }),
        2026,
        6,
      ).map((c) => (Number(c) / 10_000).toFixed(2));
    expect(of("2026-02-03")).toEqual(["35.00", "26.00", "15.60", "11.01", "11.01", "1.38"]);
    expect(of("2026-11-30")).toEqual(["5.00", "38.00", "22.80", "13.68", "10.94", "9.58"]);
  });
  test("mid-month, 27.5 years: 3.485 % from January, 0.152 % from December (table A-6)", () => {
    const first = (day: CalendarDate) =>
      byYear(bought(100_000_00n, day, { convention: "mid-month", life: 330 }), 2026, 1).map((c) =>
        (Number(c) / 100_000).toFixed(3),
      );
    expect(first("2026-01-20")).toEqual(["3.485"]);
    expect(first("2026-12-02")).toEqual(["0.152"]);
  });
  test("declining balance without going over: 25 % of what is left, in the last year all of it", () => {
    const v = bought(100_000n, "2026-01-01", { method: "declining balance", life: 48, rate: "25" });
    expect(byYear(v, 2026, 4)).toEqual([25_000n, 18_750n, 14_063n, 42_187n]);
    expect(charged(v, "2029-11-30")).toBe(57_813n + 38_671n);
  });
  test("units of production: 50,000 less 5,000, 90,000 units: 0.50 a unit", () => {
    const v: Valuation = {
      ...bought(5_000_000n, "2026-01-01", {
        method: "units of production",
        units: "90000",
        residual: "10",
      }),
      usage: [
        { on: "2026-01-31", units: "1200" },
        { on: "2026-02-28", units: "800.5" },
        { on: "2027-03-31", units: "100000" },
      ],
    };
    expect(charged(v, "2026-01-31")).toBe(60_000n);
    expect(charged(v, "2026-02-28")).toBe(100_025n);
    // More units than thought: no more than there is.
    expect(charged(v, "2027-03-31")).toBe(4_500_000n);
  });
  test("by law: 20, 32, 19.2, 11.52, 11.52, 5.76 % by fiscal year, the first in equal parts of its months", () => {
    const percents = ["20", "32", "19.2", "11.52", "11.52", "5.76"];
    const v = bought(100_000n, "2026-09-10", { method: "by law", percents });
    expect(byYear(v, 2026, 7)).toEqual([20_000n, 32_000n, 19_200n, 11_520n, 11_520n, 5_760n, 0n]);
    expect(charged(v, "2026-09-30")).toBe(5_000n);
  });
  test("by plan, at once, not at all", () => {
    const plan = [
      { month: "2026-03", amount: "300" },
      { month: "2026-05", amount: "700" },
    ];
    const v = bought(100_000n, "2026-02-10", { method: "by plan", plan });
    expect([charged(v, "2026-03-30"), charged(v, "2026-03-31"), charged(v, "2026-06-01")]).toEqual([
      0n,
      30_000n,
      100_000n,
    ]);
    const once = bought(80_000n, "2026-02-10", { method: "at once" });
    expect([charged(once, "2026-02-09"), charged(once, "2026-02-10")]).toEqual([0n, 80_000n]);
    expect(charged(bought(80_000n, "2026-02-10", { method: "none" }), "2099-12-31")).toBe(0n);
  });
  test("conventions: the first months of 36,500.00 over two years, from 10 and from 20 February", () => {
    const months = (convention: DepreciationRule["convention"], day: CalendarDate) => {
      const v = bought(3_650_000n, day, { life: 24, convention });
      return [charged(v, "2026-02-28"), charged(v, "2026-03-31")];
    };
    const month = 3_650_000n / 24n;
    expect(months("full month", "2026-02-20")).toEqual([month, 304_167n]);
    expect(months("next month", "2026-02-10")).toEqual([0n, month]);
    expect(months("half month", "2026-02-10")).toEqual([month, 304_167n]);
    expect(months("half month", "2026-02-20")).toEqual([0n, month]);
    expect(months("mid-month", "2026-02-10")).toEqual([76_042n, 228_125n]);
    expect(months("actual/365", "2026-02-19")).toEqual([50_000n, 205_000n]);
    // 10 days of 730, 40 days of 720.
    expect(months("actual days", "2026-02-19")).toEqual([50_000n, 205_000n]);
    expect(months("30/360", "2026-02-21")).toEqual([50_694n, 202_778n]);
    // A leap year has 366 parts, a common one 365.
    const leap = bought(7_320_000n, "2027-12-31", { life: 24, convention: "actual/actual" });
    expect(charged(leap, "2028-01-31") - charged(leap, "2027-12-31")).toBe(310_000n);
  });
  test("a short fiscal year takes its part of a year, and half of itself by the half year", () => {
    const short = [
      { first: "2026-01-01", last: "2026-06-30" },
      { first: "2026-07-01", last: "2027-06-30" },
    ];
    const v = bought(100_000n, "2026-01-01", {
      method: "declining balance",
      life: 120,
      rate: "20",
    });
    expect(charged(v, "2026-06-30", short)).toBe(10_000n);
    expect(charged(v, "2027-06-30", short)).toBe(28_000n);
    const half = bought(120_000n, "2026-02-01", { convention: "half year", life: 60 });
    expect(charged(half, "2026-06-30", short)).toBe(6_000n);
    expect(fiscalYearOf("2030-03-01", short)).toEqual({ first: "2029-07-01", last: "2030-06-30" });
    expect(fiscalYearOf("2024-03-01", short)).toEqual({ first: "2024-01-01", last: "2024-12-31" });
  });
});

describe("what happens on the way", () => {
  const year = (v: Valuation, n: number) => charged(v, `${n}-12-31`) - charged(v, `${n - 1}-12-31`);
  const after = (v: Valuation, ...events: ValuationEvent[]): Valuation => ({
    ...v,
    events: [...v.events, ...events],
  });
  const five = bought(1_000_000n, "2026-01-01", { life: 60 });

  test("a longer life goes forward: 10,000 over five years, after two of them over six more (IAS 8.36)", () => {
    const v = after(five, { kind: "estimate", on: "2028-01-01", rule: rule({ life: 96 }) });
    expect([year(v, 2026), year(v, 2027), year(v, 2028), year(v, 2033)]).toEqual([
      200_000n,
      200_000n,
      100_000n,
      100_000n,
    ]);
  });
  test("an addition is spread over what is left; a cost that belongs to the beginning is caught up", () => {
    const addition = after(five, { kind: "cost", on: "2028-01-01", amount: minor(300_000n) });
    expect([year(addition, 2027), year(addition, 2028), year(addition, 2030)]).toEqual([
      200_000n,
      300_000n,
      300_000n,
    ]);
    const corrected = after(five, { kind: "cost", on: "2026-01-01", amount: minor(-100_000n) });
    expect(charged(corrected, "2027-12-31")).toBe(360_000n);
  });
  test("an impairment lowers what is left (IAS 36.63); half retired takes half of everything", () => {
    const v = after(five, { kind: "impairment", on: "2028-01-01", amount: minor(300_000n) });
    expect([year(v, 2028), charged(v, "2031-01-31")]).toEqual([100_000n, 700_000n]);
    const half = after(five, { kind: "retired", on: "2028-07-10", share: { n: 1n, d: 2n } });
    expect(standingOn(half, "2028-07-31", CALENDAR)).toMatchObject({
      cost: 500_000n,
      // 30 months charged, half of it gone, and July of the half that is left.
      accumulated: 250_000n + 8_333n,
    });
    const gone = after(five, { kind: "retired", on: "2028-07-10", share: { n: 1n, d: 1n } });
    expect(standingOn(gone, "2031-12-31", CALENDAR)).toMatchObject({ cost: 0n, accumulated: 0n });
  });
  test("what was charged before the books began is taken as it was, and the rest spread over the rest", () => {
    const v: Valuation = {
      ...five,
      events: [
        five.events[0]!,
        { kind: "taken over", on: "2027-12-31", accumulated: minor(550_000n) },
      ],
    };
    expect([charged(v, "2027-12-31"), year(v, 2028), charged(v, "2030-12-31")]).toEqual([
      550_000n,
      150_000n,
      1_000_000n,
    ]);
  });
  test("a pause charges nothing and makes the life longer; a residual value above what is left charges nothing (IAS 16.54)", () => {
    const v = { ...five, pauses: [{ from: "2027-01-01", to: "2027-06-30" }] };
    expect([year(v, 2026), year(v, 2027), year(v, 2031)]).toEqual([200_000n, 100_000n, 100_000n]);
    expect(fullyChargedBy(v, CALENDAR)).toBe("2031-06-30");
    const over = after(five, {
      kind: "estimate",
      on: "2028-01-01",
      rule: rule({ life: 60, residual: "70" }),
    });
    expect(charged(over, "2030-12-31")).toBe(400_000n);
  });
  test("more charged than there is comes back at once", () => {
    const v = after(five, { kind: "cost", on: "2030-01-01", amount: minor(-900_000n) });
    expect(standingOn(v, "2030-01-31", CALENDAR)).toMatchObject({
      cost: 100_000n,
      accumulated: 100_000n,
    });
  });
});

const day = fc.integer({ min: 0, max: 1500 }).map((n) => addDays("2024-01-01", n));
const anyRule = fc
  .record({
    method: fc.constantFrom(...DEPRECIATION_METHODS.filter((m) => m !== "none")),
    convention: fc.constantFrom(...CONVENTIONS),
    life: fc.integer({ min: 1, max: 90 }),
    residual: fc.constantFrom("0", "10", "33.3333"),
    rate: fc.constantFrom("20", "33.3333", "100"),
    switches: fc.boolean(),
    percents: fc.constantFrom(
      ["50", "50"],
      ["20", "32", "19.2", "11.52", "11.52", "5.76"],
      ["100"],
    ),
    units: fc.constantFrom("100", "7"),
  })
  .map((r): DepreciationRule => ({
    ...EMPTY_RULE,
    ...r,
    plan: [
      { month: "2025-06", amount: "5" },
      { month: "2027-01", amount: "2" },
    ],
  }));
const usage = [1, 2, 3, 4, 5].map((n) => ({ on: `202${n + 3}-06-30`, units: "33" }));
const event = fc.oneof(
  fc.record({
    kind: fc.constant("cost" as const),
    on: day,
    amount: fc.bigInt({ min: 1n, max: 900_000n }).map(minor),
  }),
  fc.record({ kind: fc.constant("estimate" as const), on: day, rule: anyRule }),
  fc.record({
    kind: fc.constant("impairment" as const),
    on: day,
    amount: fc.bigInt({ min: 1n, max: 3_000n }).map(minor),
  }),
  fc.record({
    kind: fc.constant("retired" as const),
    on: day,
    share: fc.constantFrom({ n: 1n, d: 2n }, { n: 1n, d: 3n }),
  }),
);
const calendars = fc.constantFrom<FiscalSpan[]>(CALENDAR, [
  { first: "2024-04-01", last: "2025-03-31" },
  { first: "2025-04-01", last: "2025-12-31" },
  { first: "2026-01-01", last: "2026-12-31" },
]);

describe("for any asset, rule and history", () => {
  test("charges never go back without an event, never pass what there is, and come to cost less residual value to the unit", () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: 1n, max: 99_999_999n }),
        day,
        anyRule,
        fc.array(day, { maxLength: 10 }),
        calendars,
        (cost, inService, of, days, years) => {
          const v = { ...bought(cost, inService, {}), rule: of, usage };
          let before = 0n;
          for (const on of days.sort()) {
            const { accumulated, residual } = standingOn(v, on, years);
            expect(accumulated >= before && accumulated <= cost - residual).toBe(true);
            before = accumulated;
          }
          const end = standingOn(v, "2120-12-31", years);
          expect(end.accumulated + end.residual).toBe(cost);
        },
      ),
      { numRuns: 400 },
    );
  });
  test("whatever happens, in the end everything is charged down to the residual value, the same by months as at once", () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: 100_000n, max: 99_999_999n }),
        day,
        anyRule,
        fc.array(event, { maxLength: 5 }),
        calendars,
        (cost, inService, of, more, years) => {
          const first = { kind: "cost" as const, on: inService, amount: minor(cost) };
          // Nothing is impaired or retired before it is used.
          const later = more.filter((e) => e.on > inService);
          const events = [first, ...later.sort((a, b) => (a.on < b.on ? -1 : 1))];
          const v = { rule: of, inService, events, usage };
          const end = standingOn(v, "2120-12-31", years);
          const left = end.cost - end.accumulated - end.impaired;
          // Where more was charged than a new residual value leaves, it stays.
          const estimated = events.some((e) => e.kind !== "cost");
          expect(estimated ? left <= end.residual || left >= 0n : left === end.residual).toBe(true);
          const months = plannedCharges(v, "2024-01-01", "2036-12-31", years);
          const sum = months.reduce((t, m) => t + m.charge, 0n);
          expect(sum).toBe(standingOn(v, "2036-12-31", years).accumulated);
          expect(months.at(-1)!.month).toBe(endOfMonth("2036-12-31").slice(0, 7));
        },
      ),
      { numRuns: 200 },
    );
  });
});
