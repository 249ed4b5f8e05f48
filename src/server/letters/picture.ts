import { inflateSync } from "node:zlib";

/** What a picture of an allowed size may unpack to. */
const MOST = 64 * 1_048_576;

/**
 * Whether a picture (PNG or JPEG in base64) can be drawn. Asked before it is kept: the library that
 * draws unpacks later and by itself, and what is broken then ends more than the letter.
 */
export async function isDrawable(base64: string): Promise<boolean> {
  const bytes = Buffer.from(base64, "base64");
  try {
    if (base64.startsWith("iVBORw0KGgo"))
      inflateSync(packedPixels(bytes), { maxOutputLength: MOST });
    const { default: PDFDocument } = await import("pdfkit");
    // The types of the package leave it out.
    (new PDFDocument() as unknown as { openImage: (from: Buffer) => unknown }).openImage(bytes);
    return true;
  } catch {
    return false;
  }
}

/** The packed pixels of a PNG: its IDAT chunks, up to the end that it must have. */
function packedPixels(bytes: Buffer): Buffer {
  const parts: Buffer[] = [];
  for (let at = 8; ;) {
    const length = bytes.readUInt32BE(at);
    const type = bytes.toString("latin1", at + 4, at + 8);
    if (type === "IEND") return Buffer.concat(parts);
    if (type === "IDAT") parts.push(bytes.subarray(at + 8, at + 8 + length));
    at += 12 + length;
  }
}
