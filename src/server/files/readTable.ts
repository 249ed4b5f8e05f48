import Papa from "papaparse";
import { unmarked } from "@/core/files";
import { fail, ok, type Result } from "@/core/shared";
import { readWorkbook } from "./workbook";

/** As large as a file from outside may be, in bytes. */
export const MAX_FILE = 20 * 1_048_576;
export const MAX_ROWS = 100_000;

/** The rows of a file as they stand, and what a reader should know of how they were read. */
export interface Sheet {
  cells: string[][];
  notes: string[];
}

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
    ? toRecords(cells.value.cells.filter((row) => row.some((c) => c.trim() !== "")))
    : cells;
}

/**
 * Reads a CSV or XLSX file into rows of texts as they stand; a row's place is its number in the file.
 * What stands between the cells of a CSV file is found out, where it is not given.
 * Errors: INVALID with a sentence that says where. Never throws on bad content.
 */
export async function readCells(
  name: string,
  bytes: Uint8Array,
  delimiter = "",
): Promise<Result<Sheet>> {
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
  const kind = otherKind(name, text);
  if (kind !== null)
    return fail({
      code: "INVALID",
      what: `${name.slice(0, 60)} is ${kind} and no table: a table is CSV or XLSX`,
    });
  const parsed = Papa.parse<string[]>(text.trimEnd(), { preview: MAX_ROWS + 2, delimiter });
  const fault = parsed.errors.find((e) => e.type === "Quotes");
  if (fault)
    return fail({
      code: "INVALID",
      what: `Row ${(fault.row ?? 0) + 1}: a quoted cell does not end`,
    });
  return limited(parsed.data);
}

/** What a text is that can't be a table, whatever is called so; null where it may be one. */
function otherKind(name: string, text: string): string | null {
  const head = text.slice(0, 400).trimStart();
  if (/^<\?xml\b|^<[\w:.-]+\s[^>]*xmlns/.test(head) || /\.xml$/i.test(name)) return "XML";
  if (/^<(!doctype|html)\b/i.test(head)) return "a web page";
  return head.startsWith("%PDF-") ? "a PDF" : null;
}

/** As long as a cell of a spreadsheet can be. */
export const MAX_CELL = 32_767;

const limited = (table: string[][]): Result<Sheet> => {
  const long = table.findIndex((row) => row.some((cell) => cell.length > MAX_CELL));
  if (long >= 0)
    return fail({
      code: "INVALID",
      what: `Row ${long + 1}: a cell has more than ${MAX_CELL.toLocaleString("en")} characters`,
    });
  return table.length > MAX_ROWS + 1
    ? fail({
        code: "INVALID",
        what: `The file has more than ${MAX_ROWS.toLocaleString("en")} rows; no more are read`,
      })
    : ok({ cells: table, notes: [] });
};

function decode(bytes: Uint8Array): string | null {
  try {
    const text = new TextDecoder("utf-8", { fatal: true }).decode(bytes);
    return text.includes("\u0000") ? null : text.replace(/^\ufeff/, "");
  } catch {
    return null;
  }
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
      what: `The file has more than ${MAX_ROWS.toLocaleString("en")} rows; no more are read`,
    });
  const keys = head.map((h) => h.trim().toLowerCase());
  return ok(
    body.map((row) => Object.fromEntries(keys.map((k, i) => [k, unmarked((row[i] ?? "").trim())]))),
  );
}
