export interface StationRow {
  /** The step that enters this row; empty where there is nothing further down. */
  step: string;
  label: string;
  note: string;
  amount: bigint;
  chosen: boolean;
  /** A page that shows it whole. */
  href: string | null;
}
export interface Station {
  kind: string;
  title: string;
  /** What the station itself says, beside or instead of rows. */
  facts: { label: string; text: string; href?: string }[];
  rows: StationRow[];
  amount: bigint | null;
  /** Rows there are beyond those shown. */
  more: number;
}
export interface Trace {
  currency: string;
  stations: Station[];
  /** How many of the stations were reached by the path; the others opened by themselves. */
  trace: string;
}

/** How many rows a station shows; how many more there are is said. */
export const MOST_ROWS = 200;

/** A station that says nothing but its rows. */
export const stationOf = (kind: string, rows: StationRow[], more = 0): Station => ({
  kind,
  title: "",
  facts: [],
  amount: null,
  more,
  rows,
});
