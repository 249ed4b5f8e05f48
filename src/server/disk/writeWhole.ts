import { closeSync, fsyncSync, openSync, renameSync, writeFileSync } from "node:fs";
import path from "node:path";
import { flush } from "./flush";

/**
 * Writes a file that is there whole or not at all, and stays after a loss of power: beside its place
 * first, under the name with .part, then moved. An older file of that name is replaced.
 */
export function writeWhole(file: string, content: string | Uint8Array, mode = 0o644): void {
  writePart(file, content, mode);
  movePart(file);
}

/** The first half: whoever must look at the content before it counts reads the file with .part. */
export function writePart(file: string, content: string | Uint8Array, mode = 0o644): void {
  const handle = openSync(partOf(file), "w", mode);
  try {
    writeFileSync(handle, content);
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
}

export function movePart(file: string): void {
  renameSync(partOf(file), file);
  flush(path.dirname(file));
}

export const partOf = (file: string): string => `${file}.part`;
