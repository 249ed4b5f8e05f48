import Papa from "papaparse";
import type { BankNotice, BankStatement, ReadStatements } from "@/core/banks/statements";
import { readCamt } from "@/core/banks/statements/camt";
import { proposeReading } from "@/core/banks/statements/table";
import { readMt940 } from "@/core/banks/statements/mt940";
import { fail, ok, type Found, type Result } from "@/core/shared";
import { decodeXml } from "./decodeXml";
import { readCells } from "./readTable";

export interface StatementsOfFile {
  format: string;
  statements: readonly BankStatement[];
  notices: readonly BankNotice[];
  /** The cells of a table of movements; null where the file says itself what is what. */
  table: string[][] | null;
}

/**
 * Reads a bank's file of account statements, by what it holds and not by its name: XML is camt.053,
 * or 052 and 054 beside it; fields between colons are MT940 (in UTF-8, else Latin-1, as SWIFT's own
 * letters are in both); rows of cells are a table, which somebody has to say how to read.
 */
export function readStatementFile(
  name: string,
  bytes: Uint8Array,
): Promise<Result<StatementsOfFile>> {
  const head = new TextDecoder("latin1").decode(bytes.subarray(0, 400)).replaceAll("\0", "");
  if (/^(\u00ef\u00bb\u00bf|\u00ff\u00fe|\u00fe\u00ff)?\s*</.test(head))
    return Promise.resolve(readXml(bytes));
  if (/(^|[\r\n}])\s*(\{1:|:20:)/.test(head))
    return Promise.resolve(toResult("MT940", readMt940(plainText(bytes))));
  return readTableOf(name, bytes);
}

function readXml(bytes: Uint8Array): Result<StatementsOfFile> {
  const xml = decodeXml(bytes);
  if (xml === null)
    return fail({ code: "INVALID", what: "The file is not in the encoding that it names" });
  const format = /camt\.05[234]/.exec(xml.slice(0, 2_000))?.[0] ?? "XML";
  return toResult(format, readCamt(xml));
}

/**
 * What stands between the cells of a bank's table: that by which headings of a day and an amount come
 * out. Titles above and decimal commas mislead whoever only counts. "" where none does.
 */
function delimiterOf(text: string): string {
  const head = text.slice(0, 20_000);
  const found = [";", "\t", ",", "|"].map((delimiter) => ({
    delimiter,
    proposed: proposeReading(Papa.parse<string[]>(head, { delimiter, preview: 40 }).data),
  }));
  return found.find((f) => f.proposed)?.delimiter ?? "";
}

async function readTableOf(name: string, bytes: Uint8Array): Promise<Result<StatementsOfFile>> {
  // Banks write their tables in the letters of Windows as often as in UTF-8.
  const isBook = bytes[0] === 0x50 && bytes[1] === 0x4b;
  const text = isBook ? "" : plainText(bytes, "windows-1252");
  const sheet = isBook
    ? await readCells(name, bytes)
    : await readCells("table.csv", new TextEncoder().encode(text), delimiterOf(text));
  if (!sheet.ok) return sheet;
  return sheet.value.cells.some((row) => row.filter((c) => c.trim() !== "").length > 1)
    ? ok({ format: "table", statements: [], notices: [], table: sheet.value.cells })
    : fail({
        code: "INVALID",
        what: "The file is no account statement: neither camt.053 (XML) nor MT940 nor a table",
      });
}

function toResult(format: string, found: ReadStatements): Result<StatementsOfFile> {
  if ("statements" in found) return ok({ format, ...found, table: null });
  const faults = found.faults.map((f): Found => ({ code: "INVALID", what: f.what, line: f.line }));
  return { ok: false, problems: faults };
}

function plainText(bytes: Uint8Array, other = "latin1"): string {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder(other).decode(bytes);
  }
}
