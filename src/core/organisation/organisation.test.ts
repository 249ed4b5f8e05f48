import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays } from "../shared";
import {
  checkPeriodStep,
  divisionOf,
  nextYearName,
  periodKey,
  planYear,
  resolvePlace,
  WEEK_DIVISIONS,
  type Division,
  type Period,
  type PeriodState,
} from "./index";

describe("planYear", () => {
  test("periods follow on without a gap or an overlap, whatever the division", () => {
    const division: fc.Arbitrary<Division> = fc.oneof(
      fc.constant("months" as const),
      fc.constantFrom(...WEEK_DIVISIONS),
      fc.integer({ min: 1, max: 52 }).map((count) => ({ count })),
    );
    fc.assert(
      fc.property(
        fc.date({
          min: new Date("2000-01-01T00:00:00Z"),
          max: new Date("2090-12-31T00:00:00Z"),
          noInvalidDate: true,
        }),
        division,
        fc.boolean(),
        fc.option(fc.integer({ min: 0, max: 800 }), { nil: undefined }),
        (day, d, adjustment, length) => {
          const start = day.toISOString().slice(0, 10);
          const end = length === undefined ? undefined : addDays(start, length);
          const plan = planYear({ name: "Y", start, end, division: d, adjustment });
          if (!plan.ok) {
            // Only a length that the division can't have is refused.
            expect(length).toBeDefined();
            return;
          }
          if (end !== undefined) expect(plan.value.end).toBe(end);
          const regular = plan.value.periods.filter((p) => !p.adjustment);
          expect(regular[0]!.start).toBe(start);
          regular.forEach((p, i) => {
            expect(p.start <= p.end).toBe(true);
            if (i > 0) expect(p.start).toBe(addDays(regular[i - 1]!.end, 1));
          });
          expect(plan.value.end).toBe(regular.at(-1)!.end);
          if (adjustment)
            expect(plan.value.periods.at(-1)).toMatchObject({
              adjustment: true,
              start: plan.value.end,
              end: plan.value.end,
            });
        },
      ),
    );
  });
  test("short years, long first ones, 52 and 53 weeks; what is no year is refused at its field", () => {
    const ends = (
      start: string,
      end: string | undefined,
      division: Division,
    ): string[] | string => {
      const plan = planYear({ name: "Y", start, end, division, adjustment: false });
      return plan.ok ? plan.value.periods.map((p) => p.end) : (plan.problems[0]!.field ?? "");
    };
    expect(ends("2027-04-15", "2027-06-10", "months")).toEqual([
      "2027-04-30",
      "2027-05-31",
      "2027-06-10",
    ]);
    expect(ends("2026-10-01", "2027-12-31", "months")).toHaveLength(15);
    expect(ends("2026-12-28", "2028-01-02", "4-5-4").slice(-2)).toEqual([
      "2027-11-28",
      "2028-01-02",
    ]);
    expect(ends("2026-12-28", undefined, "5-4-4").at(-1)).toBe("2027-12-26");
    expect(ends("2026-12-28", "2027-12-31", "4-4-5")).toBe("end");
    expect(ends("2027-01-01", "2026-12-31", "months")).toBe("end");
    expect(ends("2027-01-01", "2029-06-30", "months")).toBe("end");
    expect(ends("2027-01-01", "2027-02-30", "months")).toBe("end");
    expect(ends("2027-01-01", "2027-01-03", { count: 4 })).toBe("count");
    expect(["2026", "2026/27", "FY99", "2026/2027", "X"].map(nextYearName)).toEqual([
      "2027",
      "2027/28",
      "FY00",
      "2027/2028",
      "X",
    ]);
    for (const division of ["months", ...WEEK_DIVISIONS, { count: 13 }] as const) {
      const plan = planYear({ name: "Y", start: "2026-12-28", division, adjustment: true });
      expect(plan.ok && divisionOf(plan.value.periods)).toEqual(division);
    }
  });
  test("calendar months and 4-4-5 weeks", () => {
    const months = planYear({
      name: "2024",
      start: "2024-01-01",
      division: "months",
      adjustment: true,
    });
    expect(months.ok && months.value.periods.map((p) => p.end).slice(0, 3)).toEqual([
      "2024-01-31",
      "2024-02-29",
      "2024-03-31",
    ]);
    const weeks = planYear({
      name: "2024",
      start: "2024-01-01",
      division: "4-4-5",
      adjustment: false,
    });
    expect(weeks.ok && [weeks.value.end, weeks.value.periods[2]]).toMatchObject([
      "2024-12-29",
      { start: "2024-02-26", end: "2024-03-31" },
    ]);
    expect(
      planYear({ name: "x", start: "2024-02-31", division: "months", adjustment: false }).ok,
    ).toBe(false);
    expect(
      planYear({ name: "x", start: "2024-01-01", division: { count: 0 }, adjustment: false }).ok,
    ).toBe(false);
  });
});

describe("checkPeriodStep", () => {
  const periods = (...states: PeriodState[]): Period[] =>
    states.map((s, i) => ({
      yearId: 1,
      yearName: "2026",
      companyId: 1,
      no: i + 1,
      name: `M${i + 1}`,
      start: `2026-0${i + 1}-01`,
      end: `2026-0${i + 1}-28`,
      adjustment: false,
      states: { 1: { ledger: s, payables: s } },
    }));
  const step = (
    all: Period[],
    keys: string[],
    to: PeriodState,
    more: { reason?: string; area?: "ledger" | "payables"; used?: string[] } = {},
  ) => {
    const result = checkPeriodStep(
      all,
      {
        periods: keys.map((k) => `2026-0${k}`),
        bookId: 1,
        area: more.area ?? "ledger",
        to,
        ...(more.reason ? { reason: more.reason } : {}),
      },
      new Set((more.used ?? []).map((k) => `2026-0${k}`)),
    );
    return result.ok ? result.value.map(periodKey) : result.problems.map((p) => p.code);
  };
  test.each<[string, Period[], string[], PeriodState, object, string[]]>([
    ["opens in order", periods("open", "not-yet"), ["2"], "open", {}, ["2026-02"]],
    [
      "opens several at once",
      periods("open", "not-yet", "not-yet"),
      ["2", "3"],
      "open",
      {},
      ["2026-02", "2026-03"],
    ],
    [
      "no open period follows one not yet opened",
      periods("open", "not-yet", "not-yet"),
      ["3"],
      "open",
      {},
      ["PERIOD_EARLIER_NOT_OPENED"],
    ],
    [
      "closes only behind closed ones",
      periods("open", "open"),
      ["2"],
      "closed",
      {},
      ["PERIOD_EARLIER_OPEN"],
    ],
    [
      "an area closes without its earlier months",
      periods("open", "open"),
      ["2"],
      "closed",
      { area: "payables" },
      ["2026-02"],
    ],
    [
      "reopens from the latest closed one",
      periods("closed", "closed", "open"),
      ["1"],
      "open",
      { reason: "late invoice" },
      ["PERIOD_LATER_CLOSED"],
    ],
    [
      "reopens with a reason",
      periods("closed", "closed", "open"),
      ["2"],
      "open",
      { reason: "late invoice" },
      ["2026-02"],
    ],
    [
      "and not without",
      periods("closed", "closed", "open"),
      ["2"],
      "open",
      {},
      ["REASON_REQUIRED"],
    ],
    [
      "does not skip from not yet to closed",
      periods("open", "not-yet"),
      ["2"],
      "closed",
      {},
      ["PERIOD_STEP", "PERIOD_EARLIER_OPEN"],
    ],
    [
      "does not go back once it holds postings",
      periods("open", "open"),
      ["2"],
      "not-yet",
      { used: ["2"] },
      ["IN_USE"],
    ],
    ["unknown periods are named", periods("open"), ["9"], "open", {}, ["PERIOD_UNKNOWN"]],
    ["what is so already does not change", periods("open"), ["1"], "open", {}, []],
  ])("%s", (_name, all, keys, to, more, expected) =>
    expect(step(all, keys, to, more).filter((c, i, l) => l.indexOf(c) === i)).toEqual(expected),
  );
});

test("an address means a place: what it leaves out comes from the last one, then from the calendar; what does not exist is passed over", () => {
  const period = (key: string, state: PeriodState) => ({
    key,
    start: `${key}-01`,
    end: `${key}-28`,
    year: key.slice(0, 4),
    adjustment: false,
    states: { IFRS: state },
  });
  const frame = {
    today: "2026-11-05",
    companies: [
      {
        code: "HSF",
        periods: [
          period("2026-09", "closing"),
          period("2026-10", "open"),
          period("2026-11", "open"),
        ],
      },
      { code: "MBY", periods: [period("2026-11", "open")] },
    ],
    books: [
      { code: "IFRS", main: true },
      { code: "TAX", main: false },
    ],
  };
  expect(resolvePlace(frame, {})).toMatchObject({
    company: "HSF",
    book: "IFRS",
    period: "2026-10",
    from: "2026-10",
  });
  expect(resolvePlace(frame, { company: "MBY", period: "1999-01" }, { book: "TAX" })).toMatchObject(
    { company: "MBY", book: "TAX", period: "2026-11" },
  );
  expect(resolvePlace(frame, { period: "2026-11", from: "2026-09" })).toMatchObject({
    period: "2026-11",
    from: "2026-09",
  });
  expect(
    resolvePlace(frame, { period: "2026-09", from: "2026-11", asKnown: "nonsense" }),
  ).toMatchObject({ period: "2026-09", from: "2026-09", asKnown: null });
});
