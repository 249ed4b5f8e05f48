import { expect, test } from "vitest";
import type { Period } from "../organisation";
import { ferryOutlines } from "../../demo/ferryOutlines";
import { layoutOf, resolveColumns, type StatementLayout } from "./index";

const [income, position] = ferryOutlines();
const years = [2024, 2025, 2026].map((y, i) => ({
  id: i + 1,
  companyId: 1,
  name: String(y),
  description: "",
  start: `${y}-01-01`,
  end: `${y}-12-31`,
}));
const periods: Period[] = years.flatMap((y) =>
  Array.from({ length: 13 }, (_, i) => ({
    yearId: y.id,
    yearName: y.name,
    companyId: 1,
    no: i + 1,
    name: i === 12 ? "Adjustments" : `M${i + 1}`,
    start: `${y.name}-${String(Math.min(i + 1, 12)).padStart(2, "0")}-01`,
    end: `${y.name}-${String(Math.min(i + 1, 12)).padStart(2, "0")}-28`,
    adjustment: i === 12,
    states: {},
  })),
);
const period = (yearId: number, no: number) =>
  periods.find((p) => p.yearId === yearId && p.no === no)!;
const spans = (
  outline: typeof income,
  layout: StatementLayout,
  at: Period,
  from?: Period,
): (string | null)[] =>
  resolveColumns(
    layoutOf(layout, outline!, at, years, periods),
    outline!.kind,
    at,
    years,
    periods,
    from,
  ).map((c) => (c.span ? `${c.label}: ${c.span.yearId} ${c.span.from}-${c.span.to}` : null));

test("a range is what the period's columns show, beside stretches as long; a balance sheet is as of its end", () => {
  expect(spans(income, "standard", period(3, 9), period(3, 7))).toEqual([
    "M7 to M9 2026: 3 7-9",
    "M4 to M6 2026: 3 4-6",
    null,
    "Year to date: 3 1-9",
    "Prior year: 2 1-9",
    null,
  ]);
  // Before the first quarter lies the last one of the year before; a stretch that would reach over
  // the year's edge has nothing beside it.
  expect(spans(income, "standard", period(3, 3), period(3, 1))[1]).toBe("M10 to M12 2025: 2 10-12");
  expect(spans(income, "standard", period(3, 5), period(3, 3))[1]).toBeNull();
  expect(spans(position, "standard", period(3, 9), period(3, 7))[0]).toBe("M9 2026: 3 0-9");
});

test("quarters up to the period, the adjustment period in the last; years up to the same period", () => {
  expect(spans(income, "quarters", period(3, 8))).toEqual([
    "Q1: 3 1-3",
    "Q2: 3 4-6",
    "Q3: 3 7-8",
    "Year to date: 3 1-8",
  ]);
  expect(spans(income, "quarters", period(3, 13))[3]).toBe("Q4: 3 10-13");
  expect(spans(position, "quarters", period(3, 6))).toEqual(["Q1: 3 0-3", "Q2: 3 0-6"]);
  expect(spans(income, "years", period(3, 12))).toEqual([
    "2026: 3 1-12",
    "2025: 2 1-12",
    "2024: 1 1-12",
  ]);
  expect(spans(position, "years", period(2, 6))).toEqual(["2025: 2 0-6", "2024: 1 0-6"]);
});
