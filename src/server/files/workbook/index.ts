import { fail, ok, type Result } from "@/core/shared";
import { MAX_ROWS, type Sheet } from "../readTable";
import { openZip } from "./openZip";
import { readParts, type SheetEntry } from "./parts";
import { readSheet, SheetTooLarge, type SheetCells } from "./readSheet";

/** What a workbook may unpack to, so that a small file cannot keep the machine busy. */
const MAX_UNPACKED = 192 * 1_048_576;

/**
 * Reads the first visible sheet of a workbook as texts, with what a reader should know of it:
 * other sheets, hidden rows, merged cells. A merged area counts once, in its first cell. Only what
 * cells hold is read, piece by piece, so time and memory grow with that alone.
 * Errors: INVALID with a sentence, also where a check sum does not fit. Never throws on bad content.
 */
export function readWorkbook(bytes: Uint8Array): Result<Sheet> {
  const zip = openZip(bytes, MAX_UNPACKED);
  if (!zip)
    return fail({
      code: "INVALID",
      what: "The workbook is damaged, or unpacks to more than it should",
    });
  try {
    const book = readParts(zip);
    const sheet = book.sheets.find((s) => !s.hidden);
    if (!sheet) return fail({ code: "INVALID", what: "The workbook has no visible sheet" });
    if (!zip.names.includes(sheet.part)) return unreadable;
    const read = readSheet(zip, sheet.part, book, MAX_ROWS);
    const others = book.sheets.filter((s) => s !== sheet);
    return ok({ cells: read.cells, notes: notesOf(sheet, others, read) });
  } catch (error) {
    return error instanceof SheetTooLarge
      ? fail({ code: "INVALID", what: error.message })
      : unreadable;
  }
}

const unreadable = fail({
  code: "INVALID",
  what: "The workbook cannot be read; save it again as XLSX",
});

function notesOf(
  sheet: SheetEntry,
  others: readonly SheetEntry[],
  { hidden, merged }: SheetCells,
): string[] {
  const notes: string[] = [];
  const names = others.map((s) => `“${s.name}”${s.hidden ? " (hidden)" : ""}`);
  if (others.length > 0) notes.push(`Sheet “${sheet.name}” is read, not ${names.join(", ")}.`);
  if (hidden.length > 0) notes.push(`Hidden rows are read too: ${some(hidden)}.`);
  if (merged.length > 0)
    notes.push(`Merged cells count once, in their first cell: ${some(merged)}.`);
  return notes;
}

const some = (list: readonly (string | number)[]): string =>
  `${list.slice(0, 5).join(", ")}${list.length > 5 ? ` and ${list.length - 5} more` : ""}`;
