/** As large as a paper may be, in bytes. */
export const MAX_ATTACHMENT = 8 * 1_048_576;

/** What may hang on a document, by the bytes that such a file begins with. */
const KINDS: readonly { type: string; endings: readonly string[]; begins: readonly number[] }[] = [
  { type: "application/pdf", endings: ["pdf"], begins: [0x25, 0x50, 0x44, 0x46] },
  { type: "image/png", endings: ["png"], begins: [0x89, 0x50, 0x4e, 0x47] },
  { type: "image/jpeg", endings: ["jpg", "jpeg"], begins: [0xff, 0xd8, 0xff] },
  {
    type: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    endings: ["xlsx"],
    begins: [0x50, 0x4b, 0x03, 0x04],
  },
];

/**
 * The type of a paper by its content, and only where its name agrees: a PDF, a picture (PNG, JPEG),
 * a spreadsheet (XLSX) or plain text (CSV, TXT, and XML, which is shown as text and never run).
 * Null where it is none of these: what a name promises and the bytes do not hold is not taken.
 */
export function attachmentType(name: string, bytes: Uint8Array): string | null {
  const ending = /\.([A-Za-z0-9]{1,5})$/.exec(name)?.[1]?.toLowerCase() ?? "";
  const kind = KINDS.find((k) => k.endings.includes(ending));
  if (kind) return kind.begins.every((b, i) => bytes[i] === b) ? kind.type : null;
  if (!["csv", "txt", "xml"].includes(ending)) return null;
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes).includes("\u0000")
      ? null
      : "text/plain";
  } catch {
    return null;
  }
}

/** A file name without folders or characters that a header or a disk could take amiss. */
export const safeName = (name: string): string =>
  (name.split(/[\\/]/).pop() ?? "").replace(/[^\p{L}\p{N} ._()-]/gu, "_").slice(-120) || "paper";
