/** How a line of an outline gets its figure. */
export type LineKind =
  /** Sum of the accounts that its ranges catch. */
  | "accounts"
  /** Sum of other lines, by code. */
  | "total"
  /**
   * Result of the year up to the column's period, computed from all income and expense accounts.
   */
  | "result"
  /**
   * Results of earlier years whose year end is not posted: what keeps the balance sheet in balance
   * until it is.
   */
  | "uncarried"
  /** A heading without figures. */
  | "heading";

export interface OutlineLine {
  code: string;
  label: string;
  level: number;
  kind: LineKind;
  /** Account numbers from and to, both included, compared as text of equal length. */
  ranges?: readonly { from: string; to: string }[];
  /** Codes of the lines that a total adds up. */
  of?: readonly string[];
  /** The side that shows positive on this line. */
  positive: "debit" | "credit";
  /** Totals may be ruled: single above, double below. */
  rule?: "single" | "double";
}

export type ColumnBase =
  "this-period" | "last-period" | "year-to-date" | "prior-year" | "prior-year-period" | "opening";

/** A column shows a span of time, a month of the year, or the difference of two others. */
export type Column =
  | { key: string; label?: string; kind: "span"; span: ColumnBase }
  | { key: string; label?: string; kind: "month"; month: number }
  /** Periods from and to, of the year that lies so many years before. */
  | { key: string; label?: string; kind: "stretch"; back: number; from: number; to: number }
  | { key: string; label?: string; kind: "difference"; of: readonly [string, string] };

export type ColumnLayout = readonly Column[];

export type OutlineKind = "income" | "position";

export interface Outline {
  code: string;
  version: number;
  name: string;
  kind: OutlineKind;
  lines: readonly OutlineLine[];
  layout: ColumnLayout;
}
