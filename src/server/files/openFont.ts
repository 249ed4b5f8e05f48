import { readFileSync } from "node:fs";
import { inflateSync } from "node:zlib";

/** Bytes of the head and of an entry in the list of tables (WOFF 1.0, OpenType 1.9). */
const PACKED = { head: 44, entry: 20 };
const OPEN = { head: 12, entry: 16 };

/**
 * A font in the packed form of WOFF 1.0 as a plain OpenType file: its tables unpacked, in the order
 * of their tags, each at a multiple of four bytes. Whatever draws with it need not unpack it anew
 * for every paper.
 *
 * @throws if it is not WOFF, or a table is not as long as the file says
 */
export function openFont(packed: Buffer): Buffer {
  if (packed.toString("latin1", 0, 4) !== "wOFF") throw new Error("This is no WOFF font.");
  const count = packed.readUInt16BE(12);
  const tables = Array.from({ length: count }, (_, i) => {
    const entry = PACKED.head + i * PACKED.entry;
    const at = packed.readUInt32BE(entry + 4);
    const bytes = packed.subarray(at, at + packed.readUInt32BE(entry + 8));
    const length = packed.readUInt32BE(entry + 12);
    // A table that would not become shorter stands there as it is.
    const plain: Buffer = bytes.length < length ? inflateSync(bytes) : bytes;
    if (plain.length !== length) throw new Error("A table of the font is damaged.");
    return { tag: packed.subarray(entry, entry + 4), sum: packed.readUInt32BE(entry + 16), plain };
  });
  const power = Math.floor(Math.log2(count));
  const head = Buffer.alloc(OPEN.head + count * OPEN.entry);
  packed.copy(head, 0, 4, 8);
  head.writeUInt16BE(count, 4);
  head.writeUInt16BE(2 ** power * 16, 6);
  head.writeUInt16BE(power, 8);
  head.writeUInt16BE(count * 16 - 2 ** power * 16, 10);
  const parts: Buffer[] = [head];
  let end = head.length;
  for (const [i, { tag, sum, plain }] of tables.entries()) {
    const entry = OPEN.head + i * OPEN.entry;
    tag.copy(head, entry);
    head.writeUInt32BE(sum, entry + 4);
    head.writeUInt32BE(end, entry + 8);
    head.writeUInt32BE(plain.length, entry + 12);
    const filled = Math.ceil(plain.length / 4) * 4;
    parts.push(plain, Buffer.alloc(filled - plain.length));
    end += filled;
  }
  return Buffer.concat(parts);
}

const opened = new Map<string, Buffer>();

/** The font in a file, unpacked the first time that it is asked for. */
export function fontIn(file: string): Buffer {
  const known = opened.get(file);
  if (known) return known;
  const font = openFont(readFileSync(file));
  opened.set(file, font);
  return font;
}
