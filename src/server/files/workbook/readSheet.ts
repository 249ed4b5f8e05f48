import Decimal from "decimal.js";
import { MAX_CELL } from "../readTable";
import type { Zip } from "./openZip";
import { isTrue, unescaped, type WorkbookParts } from "./parts";
import { readXml } from "./readXml";

const MAX_COLUMNS = 200;
/** Cells that a sheet may hold at all, empty ones between others included. */
const MAX_CELLS = 4_000_000;

/** A sheet that is larger than is read; the sentence says how. */
export class SheetTooLarge extends Error {}

export interface SheetCells {
  /** The rows of the sheet, each at its number less one. */
  cells: string[][];
  /** Numbers of hidden rows that hold something. */
  hidden: number[];
  /** First cells of merged areas within the table. */
  merged: string[];
}

interface Area {
  ref: string;
  top: number;
  left: number;
  bottom: number;
  right: number;
}

/**
 * Reads the cells of a sheet as texts (ECMA-376 part 1, 18.3). A day is written as YYYY-MM-DD, a
 * number to 15 significant digits, a formula as its result. Of merged cells the first counts.
 * Throws SheetTooLarge with a sentence, and where the part is damaged.
 */
export function readSheet(
  zip: Zip,
  part: string,
  book: WorkbookParts,
  maxRows: number,
): SheetCells {
  const cells: string[][] = [];
  const hidden: number[] = [];
  const areas: Area[] = [];
  let [row, column, held] = [0, 0, 0];
  let rowHidden = false;
  let texts: string[] = [];
  let cell: Written | null = null;
  let into: "value" | "formula" | null = null;
  let inReading = false;
  readXml(zip, part, {
    open: (name, attributes) => {
      if (name === "row") {
        row = attributes.r === undefined ? row + 1 : Number(attributes.r);
        [column, texts, rowHidden] = [0, [], isTrue(attributes.hidden)];
      } else if (name === "c") {
        column = attributes.r === undefined ? column + 1 : columnOf(attributes.r);
        cell = { type: attributes.t ?? "n", style: Number(attributes.s ?? 0), value: "" };
      } else if (name === "f") {
        if (cell) cell.formula = "";
        into = "formula";
      } else if (name === "rPh") inReading = true;
      else if (name === "v" || name === "t") into = inReading ? null : "value";
      else if (name === "mergeCell") areas.push(areaOf(attributes.ref ?? ""));
    },
    text: (piece) => {
      if (!cell || !into) return;
      if (into === "value") cell.value += piece;
      else cell.formula = (cell.formula ?? "") + piece;
    },
    close: (name) => {
      if (name === "v" || name === "t" || name === "f") into = null;
      else if (name === "rPh") inReading = false;
      else if (name === "c" && cell) {
        const text = textOf(cell, book);
        if (text.length > MAX_CELL)
          throw new SheetTooLarge(
            `Row ${row}: a cell has more than ${MAX_CELL.toLocaleString("en")} characters`,
          );
        if (text !== "" && column >= 1 && column <= MAX_COLUMNS) {
          while (texts.length < column - 1) texts.push("");
          texts[column - 1] = text;
        }
        cell = null;
      } else if (name === "row" && texts.length > 0) {
        if (row > maxRows + 1)
          throw new SheetTooLarge(`The sheet has more than ${maxRows.toLocaleString("en")} rows`);
        held += texts.length;
        if (held > MAX_CELLS)
          throw new SheetTooLarge(
            `The sheet has more than ${MAX_CELLS.toLocaleString("en")} cells`,
          );
        if (rowHidden) hidden.push(row);
        // The place in the table stays the row's number in the sheet.
        while (cells.length < row - 1) cells.push([]);
        cells[row - 1] = texts;
      }
    },
  });
  return { cells, hidden, merged: emptyMerged(cells, areas) };
}

/** Empties all cells of merged areas but the first; says which areas lie in the table. */
function emptyMerged(cells: string[][], areas: readonly Area[]): string[] {
  const merged: string[] = [];
  let looked = 0;
  for (const { ref, top, left, bottom, right } of areas) {
    if (!(top >= 1 && top <= cells.length)) continue;
    const last = Math.min(bottom, cells.length);
    looked += last - top + 1;
    let holds = false;
    for (let r = top; r <= last; r++) {
      const texts = cells[r - 1]!;
      const end = Math.min(right, texts.length);
      looked += Math.max(0, end - left + 1);
      if (looked > MAX_CELLS) throw new SheetTooLarge("The sheet has too many merged cells");
      if (end >= left) holds = true;
      for (let c = left; c <= end; c++) if (r !== top || c !== left) texts[c - 1] = "";
    }
    if (holds) merged.push(ref.split(":")[0]!);
  }
  return merged;
}

interface Written {
  type: string;
  style: number;
  value: string;
  formula?: string;
}

/** A formula that carries no result stands as its own text, so that nobody takes it for empty. */
function textOf({ type, style, value, formula }: Written, book: WorkbookParts): string {
  if (value === "") return formula === undefined || type === "str" ? "" : `=${formula}`;
  if (type === "s") return book.texts[Number(value)] ?? "";
  if (type === "b") return value.trim() === "1" ? "true" : "false";
  if (type === "n") return figureText(value, book.dateStyles[style] === true, book.from1904);
  // "str", "inlineStr", "e" and "d" are written as they stand; a day in ISO 8601 may have a time.
  return type === "d" ? value.slice(0, 10) : unescaped(value);
}

/**
 * A number as decimal text, to the 15 significant digits that a spreadsheet shows: what lies beyond
 * is noise of the binary form. Three decimals get a fourth, so that the point is not taken for the
 * mark between thousands, whatever marks the table's texts use.
 */
function figureText(written: string, isDate: boolean, from1904: boolean): string {
  const value = Number(written);
  if (written.trim() === "" || !Number.isFinite(value)) return written;
  const day = isDate ? dayText(value, from1904) : null;
  if (day) return day;
  const text = new Decimal(value.toPrecision(15)).toFixed();
  return /\.\d{3}$/.test(text) ? `${text}0` : text;
}

const DAY = 86_400_000;
/** Days from the beginning of a spreadsheet's count to 1 January 1970. */
const FROM_1900 = 25_569;
const FROM_1904 = 24_107;

/** The day of a number of days since 1900 or 1904; null where it is beyond the years written so. */
function dayText(days: number, from1904: boolean): string | null {
  const at = Math.round((days - (from1904 ? FROM_1904 : FROM_1900)) * DAY);
  const text = Math.abs(at) < 8e15 ? new Date(at).toISOString() : "";
  return /^\d{4}-/.test(text) ? text.slice(0, 10) : null;
}

/** The number of a column from the name of a cell, from 1; 0 where it names none. */
function columnOf(ref: string): number {
  let column = 0;
  for (let i = 0; i < Math.min(ref.length, 4); i++) {
    const letter = ref.charCodeAt(i) - 64;
    if (letter < 1 || letter > 26) break;
    column = column * 26 + letter;
  }
  return column;
}

function areaOf(ref: string): Area {
  const [first = "", last = first] = ref.slice(0, 40).split(":");
  const rowOf = (cell: string) => Number(cell.replace(/^[A-Z]{1,3}/, ""));
  return {
    ref: ref.slice(0, 40),
    top: rowOf(first),
    left: columnOf(first),
    bottom: rowOf(last),
    right: columnOf(last),
  };
}
