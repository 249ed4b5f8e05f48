import { unitOf, type TableColumn, type Units } from "./tableColumn";

/** Sums by currency, by the keys of their columns, in minor units of the currency. */
export interface Totals {
  currency: string;
  sums: Readonly<Record<string, bigint>>;
}

/**
 * The sums of rows by currency, in the order of the codes. A functional column is in the table's
 * currency whatever the rows are in: its sum stands in the first line.
 */
export function totalsOf<T>(
  units: Units<T>,
  columns: readonly TableColumn<T>[],
  rows: readonly T[],
): Totals[] {
  const summed = columns.filter((c) => c.sum);
  const found = [...new Set(rows.map((r) => units.currencyOf?.(r) ?? units.currency))].sort();
  const currencies = found.length > 0 ? found : [units.currency];
  return currencies.map((currency, line) => ({
    currency,
    sums: Object.fromEntries(
      summed.flatMap((c) => {
        if (c.functional && line > 0) return [];
        const own = c.functional ? rows : rows.filter((r) => unitOf(units, c, r) === currency);
        return [[c.key, own.reduce((sum, r) => sum + BigInt(c.value(r) ?? 0), 0n)]];
      }),
    ),
  }));
}
