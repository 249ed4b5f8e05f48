import type { Cell, CellValue, Worksheet } from "exceljs";
import Decimal from "decimal.js";
import { fail, ok, type Result } from "@/core/shared";
import { MAX_ROWS, type Sheet } from "./readTable";
import { zipIsWhole } from "./zip";

/** What a workbook may unpack to, so that a small file cannot fill the memory. */
const MAX_UNPACKED = 64 * 1_048_576;
const MAX_COLUMNS = 200;

/**
 * Reads the first visible sheet of a workbook as texts, with what a reader should know of it:
 * other sheets, hidden rows, merged cells. A merged area counts once, in its first cell.
 * Errors: INVALID with a sentence, also where a check sum does not fit. Never throws on bad content.
 */
export async function readWorkbook(bytes: Uint8Array): Promise<Result<Sheet>> {
  if (!zipIsWhole(bytes, MAX_UNPACKED))
    return fail({
      code: "INVALID",
      what: "The workbook is damaged, or unpacks to more than it should",
    });
  try {
    const { default: Excel } = await import("exceljs");
    const book = new Excel.Workbook();
    await book.xlsx.load(
      bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer,
    );
    const sheet = book.worksheets.find((s) => s.state === "visible");
    if (!sheet) return fail({ code: "INVALID", what: "The workbook has no visible sheet" });
    const others = book.worksheets.filter((s) => s !== sheet);
    const read = readSheet(sheet);
    if (!read.ok) return read;
    return ok({
      cells: read.value.cells,
      notes: [
        ...(others.length > 0
          ? [`Sheet “${sheet.name}” is read, not ${others.map(nameOf).join(", ")}.`]
          : []),
        ...read.value.notes,
      ],
    });
  } catch {
    return fail({ code: "INVALID", what: "The workbook cannot be read; save it again as XLSX" });
  }
}

const nameOf = (sheet: Worksheet): string =>
  `“${sheet.name}”${sheet.state === "visible" ? "" : " (hidden)"}`;

function readSheet(sheet: Worksheet): Result<Sheet> {
  const cells: string[][] = [];
  const hidden: number[] = [];
  const merged = new Set<string>();
  let tooLong = false;
  sheet.eachRow((row, number) => {
    const texts: string[] = [];
    for (let i = 1; i <= Math.min(row.cellCount, MAX_COLUMNS); i++) {
      const cell = row.getCell(i);
      if (cell.isMerged) merged.add(cell.master.address);
      texts.push(cell.isMerged && cell.master !== cell ? "" : textOf(cell));
    }
    if (texts.every((c) => c === "")) return;
    if (number > MAX_ROWS + 1) return void (tooLong = true);
    if (row.hidden) hidden.push(number);
    // The place in the table stays the row's number in the sheet.
    while (cells.length < number - 1) cells.push([]);
    cells.push(texts);
  });
  if (tooLong)
    return fail({
      code: "INVALID",
      what: `The sheet has more than ${MAX_ROWS.toLocaleString("en")} rows`,
    });
  const some = (list: readonly (string | number)[]) =>
    `${list.slice(0, 5).join(", ")}${list.length > 5 ? ` and ${list.length - 5} more` : ""}`;
  return ok({
    cells,
    notes: [
      ...(hidden.length > 0 ? [`Hidden rows are read too: ${some(hidden)}.`] : []),
      ...(merged.size > 0
        ? [`Merged cells count once, in their first cell: ${some([...merged])}.`]
        : []),
    ],
  });
}

/** A formula that carries no result stands as its own text, so that nobody takes it for empty. */
function textOf(cell: Cell): string {
  const value: CellValue = cell.value;
  if (value === null || value === undefined) return "";
  if (typeof value === "object" && ("formula" in value || "sharedFormula" in value)) {
    const { result } = value;
    return result === null || result === undefined ? `=${cell.formula}` : plainText(result, cell);
  }
  return plainText(value, cell);
}

function plainText(value: Exclude<CellValue, null | undefined>, cell: Cell): string {
  if (typeof value === "number") return figureText(value);
  if (value instanceof Date) return value.toISOString().slice(0, 10);
  if (typeof value !== "object") return String(value);
  return "error" in value ? value.error : cell.text;
}

/**
 * A number as decimal text, to the 15 significant digits that a spreadsheet shows: what lies beyond
 * is noise of the binary form. Three decimals get a fourth, so that the point is not taken for the
 * mark between thousands, whatever marks the table's texts use.
 */
function figureText(value: number): string {
  if (!Number.isFinite(value)) return String(value);
  const text = new Decimal(value.toPrecision(15)).toFixed();
  return /\.\d{3}$/.test(text) ? `${text}0` : text;
}
