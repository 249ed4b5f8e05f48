import {
  decimalText,
  isCalendarDate,
  readAmount,
  type CalendarDate,
  type NumberFormat,
} from "../shared";
import { journalInput, type JournalInput, type JournalLineInput } from "./journalInput";

/** What a column of a table from outside can mean. Dimensions stand as d.<code>. */
export const LOAD_FIELDS = [
  "journal",
  "date",
  "reference",
  "company",
  "account",
  "description",
  "debit",
  "credit",
  "amount",
  "currency",
  "quantity",
  "partner",
  "dueDate",
  "note",
] as const;
export type LoadField = (typeof LOAD_FIELDS)[number] | `d.${string}`;

/** Headings by which each meaning goes, in small letters without marks. */
const NAMES: Readonly<Record<(typeof LOAD_FIELDS)[number], readonly string[]>> = {
  journal: [
    "journal",
    "journalno",
    "journalnumber",
    "journalkey",
    "entry",
    "entryno",
    "voucher",
    "voucherno",
    "documentno",
    "docno",
  ],
  date: ["date", "journaldate", "postingdate", "bookingdate", "day", "valuedate"],
  reference: ["reference", "ref", "document", "documentreference", "sourcedocument"],
  company: ["company", "entity"],
  account: ["account", "accountno", "accountnumber", "glaccount", "ledgeraccount", "acct"],
  description: [
    "description",
    "text",
    "linetext",
    "narrative",
    "details",
    "memo",
    "linedescription",
  ],
  debit: ["debit", "debits", "dr", "debitamount"],
  credit: ["credit", "credits", "cr", "creditamount"],
  amount: ["amount", "value", "signedamount", "netamount", "sum"],
  currency: ["currency", "curr", "ccy", "currencycode"],
  quantity: ["quantity", "qty", "units"],
  partner: ["partner", "supplier", "customer", "businesspartner"],
  dueDate: ["duedate", "due"],
  note: ["note", "notes", "remark", "comment"],
};
const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, "");

export interface LoadDimension {
  code: string;
  name: string;
}

/**
 * What each heading means; null where it means nothing here. A meaning is given once, to the first
 * heading that has it.
 */
export function readHeadings(
  headings: readonly string[],
  dimensions: readonly LoadDimension[],
): (LoadField | null)[] {
  const taken = new Set<LoadField>();
  return headings.map((heading) => {
    const text = plain(heading);
    const dimension = dimensions.find((d) => plain(d.code) === text || plain(d.name) === text);
    const field: LoadField | undefined = dimension
      ? `d.${dimension.code}`
      : LOAD_FIELDS.find((f) => NAMES[f].includes(text));
    if (text === "" || !field || taken.has(field)) return null;
    taken.add(field);
    return field;
  });
}

/**
 * Whether a first row holds headings: at least two are understood, and none of its cells is a
 * figure.
 */
export const hasHeadings = (
  row: readonly string[],
  dimensions: readonly LoadDimension[],
): boolean =>
  readHeadings(row, dimensions).filter(Boolean).length >= 2 &&
  !row.some((cell) => /^[(\-−]?[\d.,' ]*\d[)\-]?$/.test(cell.trim()));

/**
 * The row of a table that holds its headings, among its first ten: a total or a title may stand
 * above it. -1 where none does.
 */
export const findHeadings = (
  table: readonly (readonly string[])[],
  dimensions: readonly LoadDimension[],
): number => table.slice(0, 10).findIndex((row) => hasHeadings(row, dimensions));

/**
 * How figures are written in a table: decimal point or comma, decided by the cells that leave no
 * doubt.
 * Rule: a mark followed by other than three digits is decimal; where both marks stand, the last one
 * is. Point, where nothing tells.
 */
export function readNumberFormat(cells: readonly string[]): NumberFormat {
  let comma = 0;
  let point = 0;
  for (const cell of cells) {
    const body = cell.replace(/[^\d.,]/g, "");
    const [lastComma, lastPoint] = [body.lastIndexOf(","), body.lastIndexOf(".")];
    if (lastComma >= 0 && lastPoint >= 0) {
      if (lastComma > lastPoint) comma++;
      else point++;
    } else if (lastComma >= 0 && body.length - lastComma - 1 !== 3) comma++;
    else if (lastComma >= 0 && body.indexOf(",") !== lastComma) point++;
    else if (lastPoint >= 0 && body.length - lastPoint - 1 !== 3) point++;
    else if (lastPoint >= 0 && body.indexOf(".") !== lastPoint) comma++;
  }
  return comma > point ? { decimal: ",", group: "." } : { decimal: ".", group: "," };
}

export type DateOrder = "ymd" | "dmy" | "mdy";

/**
 * In which order the numbers of dates stand, decided by numbers that can be no month. Day first,
 * where nothing tells.
 */
export function readDateOrder(cells: readonly string[]): DateOrder {
  let month = 0;
  for (const cell of cells) {
    if (/^\d{4}[-/.]/.test(cell.trim())) return "ymd";
    const [a = 0, b = 0] = (cell.match(/\d+/g) ?? []).map(Number);
    if (a > 12 && b <= 12) return "dmy";
    if (b > 12 && a <= 12) month++;
  }
  return month > 0 ? "mdy" : "dmy";
}

const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

/**
 * Reads a date written in a known order, or with a month's name, or as a spreadsheet's serial day.
 * Null where it is none.
 */
export function readDateIn(text: string, order: DateOrder): CalendarDate | null {
  const body = text.trim().replace(/[T ]\d{1,2}:\d{2}.*$/, "");
  const serial = /^\d{5}$/.test(body) ? Number(body) : null;
  if (serial !== null)
    return new Date(Date.UTC(1899, 11, 30) + serial * 86_400_000).toISOString().slice(0, 10);
  const parts = body.split(/[-/.\s,]+/).filter(Boolean);
  if (/^\d{8}$/.test(body))
    parts.splice(0, parts.length, body.slice(0, 4), body.slice(4, 6), body.slice(6));
  if (parts.length !== 3) return null;
  const named = parts.findIndex((p) => MONTHS.some((m) => p.toLowerCase().startsWith(m)));
  const month = (p: string) => String(MONTHS.findIndex((m) => p.toLowerCase().startsWith(m)) + 1);
  const [y, m, d] =
    named >= 0
      ? parts[0]!.length === 4
        ? [parts[0]!, month(parts[named]!), parts[2]!]
        : [parts[2]!, month(parts[named]!), parts[named === 0 ? 1 : 0]!]
      : parts[0]!.length === 4 || /^\d{8}$/.test(body)
        ? [parts[0]!, parts[1]!, parts[2]!]
        : order === "mdy"
          ? [parts[2]!, parts[0]!, parts[1]!]
          : order === "ymd"
            ? [parts[0]!, parts[1]!, parts[2]!]
            : [parts[2]!, parts[1]!, parts[0]!];
  if (![y, m, d].every((p) => /^\d{1,4}$/.test(p))) return null;
  const date = `${y.length === 2 ? `20${y}` : y}-${m.padStart(2, "0")}-${d.padStart(2, "0")}`;
  return isCalendarDate(date) ? date : null;
}

export interface Understanding {
  format: NumberFormat;
  order: DateOrder;
}

/** How the figures and dates of the mapped columns are written. */
export function understand(
  rows: readonly (readonly string[])[],
  fields: readonly (LoadField | null)[],
): Understanding {
  const cells = (wanted: readonly LoadField[]) =>
    rows
      .slice(0, 2000)
      .flatMap((r) => fields.flatMap((f, i) => (f && wanted.includes(f) && r[i] ? [r[i]] : [])));
  return {
    format: readNumberFormat(cells(["debit", "credit", "amount"])),
    order: readDateOrder(cells(["date", "dueDate"])),
  };
}

/**
 * A row of the load as texts by field, amounts and dates as understood; what could not be
 * understood stays as it was written.
 */
export type LoadRow = Readonly<Partial<Record<LoadField, string>>>;

export interface LoadedTable {
  rows: LoadRow[];
  /** For each row, its place in the table (from 0). */
  places: number[];
  /** Rows set aside: without any text, and without an amount or a quantity. */
  blank: number;
  withoutAmount: number;
}

/**
 * Turns a table into rows of a load: figures as plain decimals, one signed amount as debit or
 * credit, dates as YYYY-MM-DD.
 * Units: amounts in the currency of each row (the functional one where none is given). Nothing is
 * rounded: a figure with too many decimals stays as written.
 */
export function tableToRows(
  table: readonly (readonly string[])[],
  fields: readonly (LoadField | null)[],
  currency: string,
  understanding: Understanding,
): LoadedTable {
  const result: LoadedTable = { rows: [], places: [], blank: 0, withoutAmount: 0 };
  table.forEach((cells, place) => {
    if (cells.every((c) => c.trim() === "")) return void result.blank++;
    const row: Partial<Record<LoadField, string>> = {};
    fields.forEach((field, i) => {
      const text = cells[i]?.trim() ?? "";
      if (field && text) row[field] = text;
    });
    const unit = row.currency?.toUpperCase() || currency;
    for (const field of ["debit", "credit", "amount"] as const) {
      const text = row[field];
      if (text === undefined) continue;
      const reading = readAmount(
        text.replace(/^[A-Z]{3}\s|\s[A-Z]{3}$|[€$£]/g, "").trim(),
        unit,
        understanding.format,
      );
      if (!reading.ok) {
        // Written in the marks of the application, so that what was not understood in the table's
        // marks is not understood otherwise here.
        row[field] = text
          .split(understanding.format.group)
          .join("")
          .replace(understanding.format.decimal, ".");
        continue;
      }
      if (reading.amount === 0n) delete row[field];
      else row[field] = decimalText(reading.amount, unit);
    }
    if (row.amount !== undefined) {
      const negative = row.amount.startsWith("-");
      if (row.debit === undefined && row.credit === undefined)
        row[negative ? "credit" : "debit"] = negative ? row.amount.slice(1) : row.amount;
      delete row.amount;
    }
    for (const field of ["date", "dueDate"] as const) {
      const read = row[field] === undefined ? null : readDateIn(row[field], understanding.order);
      if (read) row[field] = read;
    }
    if (!row.debit && !row.credit && !row.quantity) return void result.withoutAmount++;
    result.rows.push(row);
    result.places.push(place);
  });
  return result;
}

/** What is given once for all journals of a load. */
export interface LoadCommon {
  company: string;
  type: string;
  date: string;
  description: string;
  reference: string;
  book: string | null;
  /** Text with {column} for each line's description; empty: the row's own. */
  pattern: string;
}

export interface LoadJournal {
  key: string;
  input: JournalInput;
  /** For each line, its row of the load (from 0). */
  rows: number[];
}

const DEFAULT_KEY = "";

/**
 * Groups rows into journals by their key, in the order in which the keys first appear. Rows of one
 * journal share its header; the first row that gives one rules.
 */
export function rowsToJournals(rows: readonly LoadRow[], common: LoadCommon): LoadJournal[] {
  const groups = new Map<string, number[]>();
  rows.forEach((row, i) => {
    if (Object.values(row).every((v) => !v?.trim())) return;
    const key = row.journal?.trim() || DEFAULT_KEY;
    const group = groups.get(key);
    if (group) group.push(i);
    else groups.set(key, [i]);
  });
  return [...groups].map(([key, places]) => {
    const first = (field: LoadField) => places.map((i) => rows[i]![field]?.trim()).find(Boolean);
    const company = common.company;
    const currency = first("currency")?.toUpperCase() ?? null;
    const lines = places.map((i): Partial<JournalLineInput> => {
      const row = rows[i]!;
      const own = row.company?.trim().toUpperCase() ?? "";
      return {
        account: row.account ?? "",
        description: common.pattern.trim() ? fill(common.pattern, row) : (row.description ?? ""),
        debit: row.debit ?? "",
        credit: row.credit ?? "",
        company: own && own !== company ? own : "",
        quantity: row.quantity ?? "",
        partner: row.partner ?? "",
        dueDate: row.dueDate ?? "",
        note: row.note ?? "",
        dimensions: Object.fromEntries(
          Object.entries(row).flatMap(([field, value]) =>
            field.startsWith("d.") && value ? [[field.slice(2), value.trim()]] : [],
          ),
        ),
      };
    });
    return {
      key,
      rows: places,
      input: journalInput({
        company,
        type: common.type,
        book: common.book,
        date: first("date") ?? common.date,
        reference: first("reference") ?? common.reference,
        description:
          common.description.trim() || first("description") || (key ? `Journal ${key}` : "Load"),
        currency,
        lines,
      }),
    };
  });
}

/**
 * A pattern with the texts of a row: "Fuel {reference}, {description}". An unknown name stays as it
 * stands.
 */
const fill = (pattern: string, row: LoadRow): string =>
  pattern
    .replace(/\{([^{}]{1,40})\}/g, (whole, name: string) => {
      const field = Object.keys(row).find((f) => plain(f.replace(/^d\./, "")) === plain(name)) as
        LoadField | undefined;
      const known = LOAD_FIELDS.some((f) => plain(f) === plain(name)) || field !== undefined;
      return field ? (row[field] ?? "") : known ? "" : whole;
    })
    .replace(/\s+/g, " ")
    .trim();
