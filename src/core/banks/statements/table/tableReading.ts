import {
  readDateMarks,
  readNumberMarks,
  plainName,
  type DateOrder,
  type NumberFormat,
} from "../../../shared";
import { fieldsOfHeadings, FIELD_WORDS, JOINED, type TableField } from "./tableFields";

/** How a bank's table is read: what a person has looked at once, and is kept with the account. */
export interface TableReading {
  /** The headings that it holds for, as they stand. */
  headings: readonly string[];
  /** What each column means; null where it is not read. */
  columns: readonly (TableField | null)[];
  format: NumberFormat;
  order: DateOrder;
  /** Whether the signs are the other way round: money out positive, money in negative. */
  turned: boolean;
}

export interface ProposedReading {
  reading: TableReading;
  /** The place of the row of headings, from 0. */
  at: number;
  /** What could be read in two ways, in sentences. */
  doubts: string[];
}

/** Rows above the headings: the bank's name, the account, the period. */
const MOST_ABOVE = 30;

/**
 * How a table can be read, by its headings and by how its figures and dates are written; null where
 * no row of it holds headings of a day and an amount.
 */
export function proposeReading(cells: readonly (readonly string[])[]): ProposedReading | null {
  const rated = cells.slice(0, MOST_ABOVE).map((row) => {
    const fields = fieldsOfHeadings(row);
    const has = (f: TableField) => fields.includes(f);
    return has("booked") && (has("amount") || has("in") || has("out"))
      ? fields.filter(Boolean).length
      : 0;
  });
  const most = Math.max(0, ...rated);
  if (most === 0) return null;
  const at = rated.indexOf(most);
  const headings = cells[at]!.map((h) => h.trim());
  const columns = fieldsOfHeadings(headings);
  const below = cells.slice(at + 1);
  const of = (...fields: TableField[]) =>
    columns.flatMap((f, i) =>
      f !== null && fields.includes(f) ? below.flatMap((r) => r[i]?.trim() || []) : [],
    );
  const figures = readNumberMarks(of("amount", "in", "out", "balance"));
  const dates = readDateMarks(of("booked", "valued"));
  return {
    at,
    reading: { headings, columns, format: figures.format, order: dates.order, turned: false },
    doubts: [
      ...(figures.certain ? [] : ["Its figures could have a decimal point or a decimal comma"]),
      ...(dates.certain ? [] : ["Its dates could begin with the day or with the month"]),
    ],
  };
}

/** Whether a reading is of these headings, in this order. */
const isOf = (reading: TableReading, headings: readonly string[]): boolean =>
  keyOf(reading.headings) === keyOf(headings);
/** Headings as one text, by which readings are found again. */
export const keyOf = (headings: readonly string[]): string => headings.map(plainName).join("|");

/** The row of a table that holds the headings of a reading; -1 where none does. */
export const headingsAt = (cells: readonly (readonly string[])[], reading: TableReading): number =>
  cells.slice(0, MOST_ABOVE).findIndex((row) => isOf(reading, row));

/** What stands against a reading, in sentences; empty where a statement can be read by it. */
export function readingFaults({ columns }: TableReading): string[] {
  const has = (f: TableField) => columns.includes(f);
  const twice = new Set(
    columns.filter((f, i): f is TableField => f !== null && columns.indexOf(f) !== i),
  );
  return [
    ...(has("booked") ? [] : ["Say which column is the booking date"]),
    ...(has("amount") || has("in") || has("out") ? [] : ["Say which column is the amount"]),
    ...(has("amount") && (has("in") || has("out"))
      ? ["The amount stands in one column, or in two for in and out: not in three"]
      : []),
    ...(has("side") && !has("amount") ? ["A mark of in or out needs the amount"] : []),
    ...[...twice].flatMap((f) =>
      JOINED.includes(f) ? [] : [`Only one column can be: ${FIELD_WORDS[f]}`],
    ),
  ];
}
