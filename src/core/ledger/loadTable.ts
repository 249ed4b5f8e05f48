import {
  decimalText,
  readDateIn,
  readDateMarks,
  readNumberMarks,
  readTableFigure,
  type DateOrder,
  type NumberFormat,
} from "../shared";
import { type LoadField } from "./loadHeadings";
import { quantityDecimals } from "./quantity";

export interface Understanding {
  format: NumberFormat;
  order: DateOrder;
  /** What could be read in two ways, and is read as `format` and `order` say. */
  doubts: ("figures" | "dates")[];
  /** Rows with an amount but without an account are left out. */
  withoutAccount: "problem" | "left-out";
}

const FIGURES = ["debit", "credit", "amount"] as const;
const DATES = ["date", "dueDate"] as const;

/** How the figures and dates of the mapped columns are written. */
export function understand(
  rows: readonly (readonly string[])[],
  fields: readonly (LoadField | null)[],
): Understanding {
  const cells = (wanted: readonly LoadField[]) =>
    rows
      .slice(0, 20_000)
      .flatMap((r) => fields.flatMap((f, i) => (f && wanted.includes(f) && r[i] ? [r[i]] : [])));
  const figures = readNumberMarks(cells(FIGURES));
  const dates = readDateMarks(cells(DATES));
  return {
    format: figures.format,
    order: dates.order,
    doubts: [
      ...(figures.certain ? [] : (["figures"] as const)),
      ...(dates.certain ? [] : (["dates"] as const)),
    ],
    withoutAccount: "problem",
  };
}

/** How a table is read where it could be read otherwise, in sentences. */
export const doubtsOf = ({ doubts, format, order }: Understanding): string[] =>
  doubts.map((doubt) =>
    doubt === "figures"
      ? `Figures such as 1${format.group}234 can be read in two ways; they are read with a decimal ${
          format.decimal === "," ? "comma" : "point"
        }.`
      : `Dates such as 05/06/2026 can be read in two ways; they are read ${
          order === "mdy" ? "month first" : "day first"
        }.`,
  );

export interface LoadRow {
  /**
   * Texts by field, figures and dates as understood; what could not be understood stays as it was
   * written.
   */
  cells: Readonly<Partial<Record<LoadField, string>>>;
  /** Which cells were not understood, with their text. */
  unread: Readonly<Partial<Record<LoadField, string>>>;
}

export type WhyAside = "without amount" | "subtotal" | "without account";

export interface LoadedTable {
  rows: LoadRow[];
  /** For each row, its place in the table (from 0). */
  places: number[];
  /** Rows without any text. */
  blank: number;
  /** Rows that are no lines of a journal, by their place in the table (from 0). */
  aside: { place: number; why: WhyAside }[];
}

/**
 * What of a table is no line of a journal, in a sentence that names the rows; empty where all are.
 * `first` is the number of the table's first row.
 */
export function asideText(blank: number, aside: LoadedTable["aside"], first: number): string {
  const parts = (["subtotal", "without amount", "without account"] as const).flatMap((why) => {
    const numbers = aside.flatMap((a) => (a.why === why ? [a.place + first] : []));
    if (numbers.length === 0) return [];
    const named = numbers.slice(0, 8).join(", ");
    const rest = numbers.length > 8 ? ` and ${numbers.length - 8} more` : "";
    return [`${why} (${numbers.length === 1 ? "row" : "rows"} ${named}${rest})`];
  });
  if (blank > 0) parts.push(`${blank} blank`);
  return parts.length === 0 ? "" : `Set aside: ${parts.join(", ")}.`;
}

/**
 * Turns a table into rows of a load: figures as plain decimals, one signed amount as debit or
 * credit, dates as YYYY-MM-DD.
 * A row without figures is set aside only where it has no account either; with one it stays, so that
 * the missing amount is a problem at its place. Rows that sum up those above them are set aside.
 * Units: amounts in the currency of each row (the functional one where none is given). Nothing is
 * rounded: a figure with too many decimals stays as written and unread.
 */
export function tableToRows(
  table: readonly (readonly string[])[],
  fields: readonly (LoadField | null)[],
  currency: string,
  understanding: Understanding,
): LoadedTable {
  const result: LoadedTable = { rows: [], places: [], blank: 0, aside: [] };
  const sums = subtotals();
  const byAccount = fields.includes("account");
  table.forEach((cells, place) => {
    if (cells.every((c) => c.trim() === "")) return void result.blank++;
    const read = readRow(cells, fields, currency, understanding);
    const { row, amount, zero } = read;
    const hasAmount = amount !== null || Boolean(row.cells.quantity) || isUnread(row);
    const hasAccount = Boolean(row.cells.account);
    const why: WhyAside | null =
      !hasAmount && (zero || !hasAccount)
        ? "without amount"
        : byAccount && !hasAccount && !isUnread(row) && amount !== null
          ? sums.isTotal(amount)
            ? "subtotal"
            : understanding.withoutAccount === "left-out"
              ? "without account"
              : null
          : null;
    if (why) return void result.aside.push({ place, why });
    if (amount) sums.add(amount);
    result.rows.push(row);
    result.places.push(place);
  });
  return result;
}

const isUnread = (row: LoadRow): boolean =>
  FIGURES.some((f) => row.unread[f] !== undefined) || row.unread.quantity !== undefined;

interface Sides {
  debit: bigint;
  credit: bigint;
}

interface ReadRow {
  row: LoadRow;
  /** What is on each side, in minor units; null where there is no amount other than zero. */
  amount: Sides | null;
  /** A zero was written out. */
  zero: boolean;
}

function readRow(
  cells: readonly string[],
  fields: readonly (LoadField | null)[],
  currency: string,
  { format, order }: Understanding,
): ReadRow {
  const row: Partial<Record<LoadField, string>> = {};
  const unread: Partial<Record<LoadField, string>> = {};
  fields.forEach((field, i) => {
    const text = cells[i]?.trim() ?? "";
    if (field && text) row[field] = text;
  });
  const unit = row.currency?.toUpperCase() || currency;
  const amount: Sides = { debit: 0n, credit: 0n };
  let zero = false;
  const take = (field: (typeof FIGURES)[number], sideOf: (negative: boolean) => keyof Sides) => {
    const text = row[field];
    if (text === undefined) return;
    delete row[field];
    const reading = readTableFigure(text, unit, format);
    if (!reading.ok) {
      row[sideOf(false)] = text;
      unread[sideOf(false)] = text;
      return;
    }
    if (reading.amount === 0n) return void (zero = true);
    const side = sideOf(reading.amount < 0n);
    const size = field === "amount" && reading.amount < 0n ? -reading.amount : reading.amount;
    row[side] = decimalText(size, unit);
    amount[side] += size;
  };
  take("debit", () => "debit");
  take("credit", () => "credit");
  // A signed amount beside filled sides would say the same twice.
  if (row.debit === undefined && row.credit === undefined)
    take("amount", (negative) => (negative ? "credit" : "debit"));
  delete row.amount;
  if (row.quantity !== undefined) {
    const quantity = readTableFigure(row.quantity, "KWD", format);
    if (quantity.ok) row.quantity = quantityDecimals(quantity.amount);
    else unread.quantity = row.quantity;
  }
  for (const field of DATES) {
    if (row[field] === undefined) continue;
    const date = readDateIn(row[field], order);
    if (date) row[field] = date;
    else unread[field] = row[field];
  }
  const none = amount.debit === 0n && amount.credit === 0n;
  return { row: { cells: row, unread }, amount: none ? null : amount, zero };
}

/**
 * Notices rows that sum up rows right above them, at least two and none beyond the last sum, or all
 * that stand above.
 */
function subtotals() {
  let since: Sides[] = [];
  let count = 0;
  let all = NOTHING;
  const plus = (a: Sides, b: Sides): Sides => ({
    debit: a.debit + b.debit,
    credit: a.credit + b.credit,
  });
  const same = (a: Sides, b: Sides) =>
    (a.debit === b.debit && a.credit === b.credit) ||
    // A signed column totals to the difference of the sides.
    (a.debit - a.credit === b.debit - b.credit && (a.debit === 0n || a.credit === 0n));
  const sumsAbove = (amount: Sides): boolean => {
    let sum = NOTHING;
    for (let i = since.length - 1; i >= 0; i--) {
      sum = plus(sum, since[i]!);
      if (since.length - i > 1 && same(amount, sum)) return true;
    }
    return count > 1 && same(amount, all);
  };
  return {
    add(amount: Sides) {
      since.push(amount);
      all = plus(all, amount);
      count++;
    },
    isTotal(amount: Sides): boolean {
      const total = sumsAbove(amount);
      if (total) since = [];
      return total;
    },
  };
}
const NOTHING: Sides = { debit: 0n, credit: 0n };
