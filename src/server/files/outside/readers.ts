import { readEInvoice } from "@/core/trade/eInvoice/read";
import { fail } from "@/core/shared";
import { decodeXml } from "../decodeXml";
import { readStatementFile } from "../readStatementFile";
import { readCells, readTable } from "../readTable";

/**
 * What reads material from outside, by kind. Each is given the file's name and bytes, answers with
 * a result or a sentence, and needs nothing else: it runs on a thread of its own.
 */
export const readers = {
  /** A table with headings, as records. */
  table: readTable,
  /** A table as it stands. */
  cells: readCells,
  /** An e-invoice in any encoding that XML names. */
  eInvoice: async (_name: string, bytes: Uint8Array) => {
    const xml = decodeXml(bytes);
    return xml === null
      ? fail({ code: "INVALID", what: "The file is not in the encoding that it names" })
      : readEInvoice(xml);
  },
  /** Account statements of a bank: camt.053 or MT940, whatever it is called. */
  statements: readStatementFile,
} as const;

export type ReaderKind = keyof typeof readers;
export type ReadBy<K extends ReaderKind> =
  Awaited<ReturnType<(typeof readers)[K]>> extends infer R
    ? R extends { ok: true; value: infer V }
      ? V
      : never
    : never;
