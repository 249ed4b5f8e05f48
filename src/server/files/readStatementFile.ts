import type { BankNotice, BankStatement, ReadStatements } from "@/core/banks/statements";
import { readCamt } from "@/core/banks/statements/camt";
import { readMt940 } from "@/core/banks/statements/mt940";
import { fail, ok, type Found, type Result } from "@/core/shared";
import { decodeXml } from "./decodeXml";

export interface StatementsOfFile {
  format: string;
  statements: readonly BankStatement[];
  notices: readonly BankNotice[];
}

/**
 * Reads a bank's file of account statements, by what it holds and not by its name: XML is camt.053,
 * or 052 and 054 beside it; fields between colons are MT940 (in UTF-8, else Latin-1, as SWIFT's own letters are in both).
 */
export function readStatementFile(
  _name: string,
  bytes: Uint8Array,
): Promise<Result<StatementsOfFile>> {
  return Promise.resolve(read(bytes));
}

function read(bytes: Uint8Array): Result<StatementsOfFile> {
  const head = new TextDecoder("latin1").decode(bytes.subarray(0, 400)).replaceAll("\0", "");
  if (/^(\u00ef\u00bb\u00bf|\u00ff\u00fe|\u00fe\u00ff)?\s*</.test(head)) {
    const xml = decodeXml(bytes);
    return xml === null
      ? fail({ code: "INVALID", what: "The file is not in the encoding that it names" })
      : toResult(/camt\.05[234]/.exec(xml.slice(0, 2_000))?.[0] ?? "XML", readCamt(xml));
  }
  if (/(^|[\r\n}])\s*(\{1:|:20:)/.test(head)) return toResult("MT940", readMt940(plainText(bytes)));
  return fail({
    code: "INVALID",
    what: "The file is no account statement: neither camt.053 (XML) nor MT940",
  });
}

function toResult(format: string, found: ReadStatements): Result<StatementsOfFile> {
  if ("statements" in found) return ok({ format, ...found });
  const faults = found.faults.map((f): Found => ({ code: "INVALID", what: f.what, line: f.line }));
  return { ok: false, problems: faults };
}

function plainText(bytes: Uint8Array): string {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("latin1").decode(bytes);
  }
}
