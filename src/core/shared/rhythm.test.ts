import { describe, expect, test } from "vitest";
import { datesOf, readRhythm, rhythmText } from "./rhythm";

const rhythm = (first: string, more: object = {}) => ({
  every: 1,
  unit: "month" as const,
  first,
  until: "",
  ...more,
});

describe("datesOf", () => {
  test.each([
    [
      "a first date at the end of its month means the end of every month",
      rhythm("2026-01-31"),
      "2026-04-30",
      ["2026-01-31", "2026-02-28", "2026-03-31", "2026-04-30"],
    ],
    [
      "also where that first month is short",
      rhythm("2026-02-28"),
      "2026-04-30",
      ["2026-02-28", "2026-03-31", "2026-04-30"],
    ],
    [
      "a day that a month lacks falls on its last one, and is back afterwards",
      rhythm("2026-01-30"),
      "2026-03-31",
      ["2026-01-30", "2026-02-28", "2026-03-30"],
    ],
    [
      "quarters, up to the end",
      rhythm("2025-11-15", { every: 3, until: "2026-05-15" }),
      "2027-01-01",
      ["2025-11-15", "2026-02-15", "2026-05-15"],
    ],
    [
      "weeks run over the end of a year",
      rhythm("2026-12-21", { unit: "week", every: 2 }),
      "2027-01-04",
      ["2026-12-21", "2027-01-04"],
    ],
    ["nothing before the first", rhythm("2026-05-01"), "2026-04-30", []],
    ["nothing without a first date", rhythm("soon"), "2026-04-30", []],
  ])("%s", (_rule, given, upTo, expected) => expect(datesOf(given, upTo)).toEqual(expected));

  test("is said in words", () =>
    expect([
      rhythmText(rhythm("")),
      rhythmText(rhythm("", { every: 3 })),
      rhythmText(rhythm("", { every: 2, unit: "week" })),
    ]).toEqual(["every month", "every 3 months", "every 2 weeks"]));
});

describe("readRhythm", () => {
  const read = (first: string, until: string) => {
    const result = readRhythm(rhythm(first, { until }), "2026-11-05");
    return result.ok
      ? [result.value.first, result.value.until]
      : result.problems.map((p) => `${p.field}: ${p.code}`);
  };
  test.each([
    [
      "as it was typed, without a year in that of today",
      "15 Jan",
      "31.12.2027",
      ["2026-01-15", "2027-12-31"],
    ],
    ["without end", "2026-02-28", " ", ["2026-02-28", ""]],
    ["no first date", " ", "", ["first: REQUIRED"]],
    ["a date that does not exist", "31 Feb", "", ["first: DATE_INVALID"]],
    ["an end that is none", "1 Mar", "never", ["until: DATE_INVALID"]],
    ["an end before the beginning", "1 Mar", "28 Feb", ["until: INVALID"]],
    ["one day alone", "1 Mar", "1 Mar", ["2026-03-01", "2026-03-01"]],
  ])("%s", (_what, first, until, expected) => expect(read(first, until)).toEqual(expected));
});
