import { crc32, inflateRawSync } from "node:zlib";

const DIRECTORY_END = 0x06054b50;
const DIRECTORY_ENTRY = 0x02014b50;
const LOCAL_ENTRY = 0x04034b50;
const STORED = 0;
const DEFLATED = 8;

/**
 * Whether a zip is whole: every entry unpacks, to no more than `limit` bytes together, to the size
 * and the check sum that its directory names. What the directory declares is not believed.
 * Never throws on bad content.
 */
export function zipIsWhole(bytes: Uint8Array, limit: number): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  try {
    const end = directoryEnd(view);
    if (end < 0) return false;
    const count = view.getUint16(end + 10, true);
    let at = view.getUint32(end + 16, true);
    let left = limit;
    for (let i = 0; i < count; i++) {
      if (view.getUint32(at, true) !== DIRECTORY_ENTRY) return false;
      const unpacked = unpack(bytes, view, at, left);
      if (unpacked === null) return false;
      left -= unpacked;
      at +=
        46 +
        view.getUint16(at + 28, true) +
        view.getUint16(at + 30, true) +
        view.getUint16(at + 32, true);
    }
    return count > 0;
  } catch {
    // A place beyond the file's end, or data that do not inflate.
    return false;
  }
}

/** The record that ends a zip stands at its end, before a comment of at most 64 KB. -1 without. */
function directoryEnd(view: DataView): number {
  const last = view.byteLength - 22;
  for (let at = last; at >= 0 && at >= last - 0xffff; at--)
    if (view.getUint32(at, true) === DIRECTORY_END) return at;
  return -1;
}

/** The unpacked size of the entry whose directory record stands at `at`; null where it is damaged. */
function unpack(bytes: Uint8Array, view: DataView, at: number, limit: number): number | null {
  const method = view.getUint16(at + 10, true);
  const sum = view.getUint32(at + 16, true);
  const packed = view.getUint32(at + 20, true);
  const size = view.getUint32(at + 24, true);
  const local = view.getUint32(at + 42, true);
  if (view.getUint32(local, true) !== LOCAL_ENTRY || size > limit) return null;
  const start = local + 30 + view.getUint16(local + 26, true) + view.getUint16(local + 28, true);
  const data = bytes.subarray(start, start + packed);
  if (data.length !== packed || (method !== STORED && method !== DEFLATED)) return null;
  const content =
    method === STORED ? data : inflateRawSync(data, { maxOutputLength: Math.max(1, limit) });
  return content.length === size && crc32(content) === sum ? size : null;
}
