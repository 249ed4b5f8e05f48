import Papa from "papaparse";
import type {
  BankNotice,
  BankStatement,
  ReadStatements,
  StatementFault,
} from "@/core/banks/statements";
import { readStatusReport, type StatusReport } from "@/core/banks/statements/statusReport";
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
  /** What the bank says of a file of payments; null where it is none. */
  report: StatusReport | null;
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
  if (/pain\.002/.exec(xml.slice(0, 2_000))) {
    const read = readStatusReport(xml);
    return "report" in read
      ? ok({ format: "pain.002", statements: [], notices: [], table: null, report: read.report })
      : refused(read.faults);
  }
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
    ? ok({ format: "table", statements: [], notices: [], table: sheet.value.cells, report: null })
    : fail({
        code: "INVALID",
        what: "The file is no account statement: neither camt.053 (XML) nor MT940 nor a table",
      });
}

function toResult(format: string, found: ReadStatements): Result<StatementsOfFile> {
  return "statements" in found
    ? ok({ format, ...found, table: null, report: null })
    : refused(found.faults);
}

const refused = (faults: readonly StatementFault[]): Result<never> => ({
  ok: false,
  problems: faults.map((f): Found => ({ code: "INVALID", what: f.what, line: f.line })),
});

function plainText(bytes: Uint8Array, other = "latin1"): string {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder(other).decode(bytes);
  }
}
