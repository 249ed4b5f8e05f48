import type { Masters } from "@/core/ledger";

type TableRow = Readonly<Record<string, string>>;

/** What stands in a row under the first of some headings that has anything. */
export function cellOf(row: TableRow, ...names: readonly string[]): string {
  for (const name of names) {
    const found = row[name]?.trim();
    if (found) return found;
  }
  return "";
}

/** The values of a row, by dimension: under its code or its name. */
export const dimensionsIn = (row: TableRow, masters: Masters): Record<string, string> =>
  Object.fromEntries(
    masters.dimensions.flatMap((d) => {
      const value = cellOf(row, d.code.toLowerCase(), d.name.toLowerCase());
      return value ? [[d.code, value]] : [];
    }),
  );
