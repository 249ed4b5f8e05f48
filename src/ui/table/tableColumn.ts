import type { ReactNode } from "react";
import { amountText } from "@/core/shared";
import type { ExportCell } from "./exportTable";
import { shownAmount } from "../writing";

export interface TableColumn<T> {
  key: string;
  header: string;
  /** Pixels; a column without a width takes what is left. */
  width?: number;
  align?: "right";
  /**
   * What the column sorts, filters and exports by. Bigints are minor units of the row's currency, or
   * of the table's where the column is functional.
   */
  value: (row: T) => string | number | bigint | null;
  cell?: (row: T) => ReactNode;
  /** Summed in the footer by currency, over the rows shown or selected that count. */
  sum?: boolean;
  /** In the table's currency, whatever the row's is. */
  functional?: boolean;
  hidden?: boolean;
  /** Found for the rows that are shown: the list is neither ordered nor narrowed by it. */
  derived?: boolean;
}

/** In which currency the amounts of a table are. */
export interface Units<T> {
  currency: string;
  /** The currency of a row's amounts, where rows are in several. */
  currencyOf?: ((row: T) => string) | undefined;
}

export const unitOf = <T>({ currency, currencyOf }: Units<T>, column: TableColumn<T>, row: T) =>
  column.functional || !currencyOf ? currency : currencyOf(row);

/** What a cell says in the standard way of writing: what filters look in. */
export const cellText = <T>(units: Units<T>, column: TableColumn<T>, row: T): string =>
  textOf(units, column, row, amountText);
/** What a cell says, as this person reads it. */
export const shownCell = <T>(units: Units<T>, column: TableColumn<T>, row: T): string =>
  textOf(units, column, row, shownAmount);

function textOf<T>(
  units: Units<T>,
  column: TableColumn<T>,
  row: T,
  amount: (value: bigint, currency: string) => string,
): string {
  const value = column.value(row);
  if (typeof value === "bigint") return amount(value, unitOf(units, column, row));
  return value === null ? "" : String(value);
}

/** The same for a file: amounts stay amounts. */
export function exportCell<T>(units: Units<T>, column: TableColumn<T>, row: T): ExportCell {
  const value = column.value(row);
  return typeof value === "bigint"
    ? { amount: value, currency: unitOf(units, column, row) }
    : value;
}

export function compareValues(a: unknown, b: unknown): number {
  if (typeof a === "bigint" && typeof b === "bigint") return a < b ? -1 : a > b ? 1 : 0;
  if (typeof a === "number" && typeof b === "number") return a - b;
  return String(a ?? "").localeCompare(String(b ?? ""), "en", { numeric: true });
}
