import type { ColumnLayout, OutlineLine } from "./types";

/** A line that sums a range of accounts. */
export const line = (
  code: string,
  label: string,
  from: string,
  to: string,
  positive: "debit" | "credit" = "credit",
): OutlineLine => ({
  code,
  label,
  level: 1,
  kind: "accounts",
  positive,
  ranges: [{ from, to }],
});
export const total = (
  code: string,
  label: string,
  of: string[],
  positive: "debit" | "credit" = "credit",
  rule?: "single" | "double",
): OutlineLine => ({
  code,
  label,
  level: 0,
  kind: "total",
  of,
  positive,
  ...(rule ? { rule } : {}),
});
export const heading = (code: string, label: string): OutlineLine => ({
  code,
  label,
  level: 0,
  kind: "heading",
  positive: "debit",
});

/** This period and the last, the year to date and the year before. */
export const incomeLayout: ColumnLayout = [
  { key: "this", kind: "span", span: "this-period" },
  { key: "last", kind: "span", span: "last-period" },
  { key: "change", kind: "difference", of: ["this", "last"] },
  { key: "ytd", label: "Year to date", kind: "span", span: "year-to-date" },
  { key: "prior", label: "Prior year", kind: "span", span: "prior-year" },
  { key: "change-year", kind: "difference", of: ["ytd", "prior"] },
];

export const positionLayout: ColumnLayout = [
  { key: "this", kind: "span", span: "this-period" },
  { key: "last", kind: "span", span: "last-period" },
  { key: "change", kind: "difference", of: ["this", "last"] },
  { key: "prior", kind: "span", span: "prior-year" },
  { key: "change-year", kind: "difference", of: ["this", "prior"] },
];
