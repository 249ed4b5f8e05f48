import { type FiscalYear, type Period } from "../organisation";
import type { Column, ColumnLayout, Outline } from "./types";

/** Over what columns a statement is read: as its outline says, or over stretches of time. */
export const STATEMENT_LAYOUTS = ["standard", "months", "quarters", "years"] as const;
export type StatementLayout = (typeof STATEMENT_LAYOUTS)[number];

const MOST_YEARS = 5;
const QUARTERS = 4;
const yearToDate: Column = {
  key: "ytd",
  label: "Year to date",
  kind: "span",
  span: "year-to-date",
};

/** Quarters up to a period; the adjustment period counts in the last. None where periods do not divide. */
function quarters(at: Period, periods: readonly Period[]): Column[] {
  const plain = periods.filter((p) => p.yearId === at.yearId && !p.adjustment);
  const size = plain.length / QUARTERS;
  if (!Number.isInteger(size)) return [];
  return [1, 2, 3, 4].flatMap((q): Column[] => {
    const from = (q - 1) * size + 1;
    if (from > at.no) return [];
    const to = q === QUARTERS && at.adjustment ? at.no : Math.min(q * size, at.no);
    return [{ key: `q${q}`, label: `Q${q}`, kind: "stretch", back: 0, from, to }];
  });
}

/** The year of a period and the ones before it, each up to the period of the same number. */
function severalYears(at: Period, years: readonly FiscalYear[]): Column[] {
  const own = years.find((y) => y.id === at.yearId)!;
  const earlier = years
    .filter((y) => y.end < own.start)
    .sort((a, b) => (a.start < b.start ? 1 : -1))
    .slice(0, MOST_YEARS - 1);
  return [own, ...earlier].map((y, back) => ({
    key: `y${back}`,
    label: y.name,
    kind: "stretch",
    back,
    from: 1,
    to: at.no,
  }));
}

/**
 * The columns of a statement at a period. Quarters of a year whose periods do not divide into four
 * are its months.
 */
export function layoutOf(
  layout: StatementLayout,
  outline: Pick<Outline, "layout" | "kind">,
  at: Period,
  years: readonly FiscalYear[],
  periods: readonly Period[],
): ColumnLayout {
  const total = outline.kind === "income" ? [yearToDate] : [];
  if (layout === "years") return severalYears(at, years);
  if (layout === "quarters") {
    const found = quarters(at, periods);
    if (found.length > 0) return [...found, ...total];
  }
  if (layout === "standard") return outline.layout;
  return [
    ...periods
      .filter((p) => p.yearId === at.yearId && p.no <= at.no && (!p.adjustment || p.no === at.no))
      .map((p): Column => ({ key: `m${p.no}`, label: p.name, kind: "month", month: p.no })),
    yearToDate,
  ];
}
