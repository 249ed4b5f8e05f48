import { crc32 } from "node:zlib";
import { Inflate } from "fflate";

const DIRECTORY_END = 0x06054b50;
const DIRECTORY_ENTRY = 0x02014b50;
const LOCAL_ENTRY = 0x04034b50;
const STORED = 0;
const DEFLATED = 8;
/** Packed bytes that are unpacked at a time, so that no more than this stands in memory. */
const PIECE = 16_384;
/** Parts that a workbook may have: sheets, styles, pictures. */
const MAX_ENTRIES = 2_000;

interface Entry {
  method: number;
  sum: number;
  size: number;
  data: Uint8Array;
}

/** A zip whose every entry has been unpacked once and found whole. */
export interface Zip {
  names: readonly string[];
  /** Unpacks an entry piece by piece; false where there is none of that name. */
  read(name: string, take: (piece: Uint8Array) => void): boolean;
}

/**
 * Opens a zip, if it is whole: every entry unpacks to the size and the check sum that its directory
 * names, and all together to no more than `limit` bytes. What the directory declares is not
 * believed: what is written is counted while it is unpacked. Null otherwise; never throws.
 */
export function openZip(bytes: Uint8Array, limit: number): Zip | null {
  try {
    const entries = readDirectory(bytes);
    if (!entries) return null;
    let left = limit;
    for (const entry of entries.values()) {
      let sum = 0;
      let size = 0;
      unpack(entry, (piece) => {
        size += piece.length;
        if (size > left) throw new RangeError("unpacks to too much");
        sum = crc32(piece, sum);
      });
      if (size !== entry.size || sum !== entry.sum) return null;
      left -= size;
    }
    return {
      names: [...entries.keys()],
      read: (name, take) => {
        const entry = entries.get(name);
        if (entry) unpack(entry, take);
        return entry !== undefined;
      },
    };
  } catch {
    // A place beyond the file's end, or data that do not inflate.
    return null;
  }
}

/** The entries that the directory at the end names, by name; null where it is damaged. */
function readDirectory(bytes: Uint8Array): Map<string, Entry> | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const end = directoryEnd(view);
  if (end < 0) return null;
  const count = view.getUint16(end + 10, true);
  if (count === 0 || count > MAX_ENTRIES) return null;
  const entries = new Map<string, Entry>();
  let at = view.getUint32(end + 16, true);
  for (let i = 0; i < count; i++) {
    if (view.getUint32(at, true) !== DIRECTORY_ENTRY) return null;
    const nameLength = view.getUint16(at + 28, true);
    const name = new TextDecoder().decode(bytes.subarray(at + 46, at + 46 + nameLength));
    const entry = entryAt(bytes, view, at);
    // The same name twice could be one thing to us and another to somebody else.
    if (!entry || entries.has(name)) return null;
    entries.set(name, entry);
    at += 46 + nameLength + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
  }
  return entries;
}

/** The record that ends a zip stands at its end, before a comment of at most 64 KB. -1 without. */
function directoryEnd(view: DataView): number {
  const last = view.byteLength - 22;
  for (let at = last; at >= 0 && at >= last - 0xffff; at--)
    if (view.getUint32(at, true) === DIRECTORY_END) return at;
  return -1;
}

/** The entry whose directory record stands at `at`; null where it is damaged. */
function entryAt(bytes: Uint8Array, view: DataView, at: number): Entry | null {
  const method = view.getUint16(at + 10, true);
  const packed = view.getUint32(at + 20, true);
  const local = view.getUint32(at + 42, true);
  if (view.getUint32(local, true) !== LOCAL_ENTRY) return null;
  const start = local + 30 + view.getUint16(local + 26, true) + view.getUint16(local + 28, true);
  const data = bytes.subarray(start, start + packed);
  if (data.length !== packed || (method !== STORED && method !== DEFLATED)) return null;
  return { method, data, sum: view.getUint32(at + 16, true), size: view.getUint32(at + 24, true) };
}

function unpack({ method, data }: Entry, take: (piece: Uint8Array) => void): void {
  if (method === STORED) return take(data);
  const inflate = new Inflate(take);
  if (data.length === 0) throw new RangeError("nothing to unpack");
  for (let at = 0; at < data.length; at += PIECE)
    inflate.push(data.subarray(at, at + PIECE), at + PIECE >= data.length);
}
