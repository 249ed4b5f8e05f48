import Papa from "papaparse";
import { fail, ok, type Result } from "@/core/shared";

/** As large as a file from outside may be, in bytes. */
export const MAX_FILE = 8 * 1_048_576;
const MAX_ROWS = 100_000;
/**
 * A workbook is a zip: what it unpacks to is limited too, so that a small file cannot fill the
 * memory.
 */
const MAX_UNPACKED = 64 * 1_048_576;

/**
 * Reads a CSV or XLSX file into rows of texts by heading. The first row holds the headings.
 * Errors: INVALID with a sentence that says where. Never throws on bad content.
 */
export async function readTable(
  name: string,
  bytes: Uint8Array,
): Promise<Result<Record<string, string>[]>> {
  const cells = await readCells(name, bytes);
  return cells.ok
    ? toRecords(cells.value.filter((row) => row.some((c) => c.trim() !== "")))
    : cells;
}

/**
 * Reads a CSV or XLSX file into rows of texts as they stand. Errors: INVALID with a sentence that
 * says where. Never throws on bad content.
 */
export async function readCells(name: string, bytes: Uint8Array): Promise<Result<string[][]>> {
  if (bytes.length > MAX_FILE)
    return fail({ code: "INVALID", what: `The file is larger than ${MAX_FILE / 1_048_576} MB` });
  const zipped = bytes[0] === 0x50 && bytes[1] === 0x4b;
  if (/\.xlsx$/i.test(name) || zipped)
    return zipped
      ? readWorkbook(bytes)
      : fail({
          code: "INVALID",
          what: `${name.slice(0, 60)} is not a workbook, whatever its name says`,
        });
  const text = decode(bytes);
  if (text === null)
    return fail({ code: "INVALID", what: `${name.slice(0, 60)} is not a text file in UTF-8` });
  const parsed = Papa.parse<string[]>(text.replace(/\s+$/, ""));
  const fault = parsed.errors.find((e) => e.type === "Quotes");
  if (fault)
    return fail({
      code: "INVALID",
      what: `Row ${(fault.row ?? 0) + 1}: a quoted cell does not end`,
    });
  return limited(parsed.data);
}

const limited = (table: string[][]): Result<string[][]> =>
  table.length > MAX_ROWS + 1
    ? fail({
        code: "INVALID",
        what: `The file has ${table.length.toLocaleString("en")} rows; at most ${MAX_ROWS.toLocaleString("en")} are read`,
      })
    : ok(table);

function decode(bytes: Uint8Array): string | null {
  try {
    const text = new TextDecoder("utf-8", { fatal: true }).decode(bytes);
    return text.includes("\u0000") ? null : text.replace(/^\ufeff/, "");
  } catch {
    return null;
  }
}

async function readWorkbook(bytes: Uint8Array): Promise<Result<string[][]>> {
  const size = unpackedSize(bytes);
  if (size === null || size > MAX_UNPACKED)
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
    const sheet = book.worksheets[0];
    if (!sheet) return fail({ code: "INVALID", what: "The workbook has no sheet" });
    const table: string[][] = [];
    sheet.eachRow((row) => {
      const cells: string[] = [];
      for (let i = 1; i <= Math.min(row.cellCount, 200); i++) {
        const value = row.getCell(i).value;
        cells.push(
          value === null || value === undefined
            ? ""
            : value instanceof Date
              ? value.toISOString().slice(0, 10)
              : typeof value === "object"
                ? "result" in value
                  ? String(value.result ?? "")
                  : row.getCell(i).text
                : String(value),
        );
      }
      if (cells.some((c) => c !== "")) table.push(cells);
    });
    return limited(table);
  } catch {
    return fail({ code: "INVALID", what: "The workbook cannot be read; save it again as XLSX" });
  }
}

/** The sum of the sizes that a zip's directory declares; null where it has none. */
function unpackedSize(bytes: Uint8Array): number | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let total = 0;
  let seen = 0;
  for (let i = 0; i + 46 <= bytes.length; i++) {
    if (view.getUint32(i, true) !== 0x02014b50) continue;
    total += view.getUint32(i + 24, true);
    if (++seen > 10_000) return null;
    i += 45;
  }
  return seen === 0 ? null : total;
}

function toRecords(table: readonly (readonly string[])[]): Result<Record<string, string>[]> {
  const [head, ...body] = table;
  if (!head || head.every((h) => h.trim() === ""))
    return fail({
      code: "INVALID",
      what: "The file is empty; its first row should hold the headings",
    });
  if (body.length > MAX_ROWS)
    return fail({
      code: "INVALID",
      what: `The file has ${body.length.toLocaleString("en")} rows; at most ${MAX_ROWS.toLocaleString("en")} are read`,
    });
  const keys = head.map((h) => h.trim().toLowerCase());
  return ok(body.map((row) => Object.fromEntries(keys.map((k, i) => [k, (row[i] ?? "").trim()]))));
}
