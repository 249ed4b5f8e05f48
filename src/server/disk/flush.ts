import { closeSync, fsyncSync, openSync, readdirSync } from "node:fs";
import path from "node:path";

/** Brings a file, or the names in a folder, onto the disk, so that a loss of power leaves them. */
export function flush(place: string): void {
  const handle = openSync(place, "r");
  try {
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
}

/** Brings a folder with all that is in it onto the disk, and its own name with it. */
export function flushTree(folder: string): void {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const place = path.join(folder, entry.name);
    if (entry.isDirectory()) flushTree(place);
    else if (entry.isFile()) flush(place);
  }
  flush(folder);
  flush(path.dirname(folder));
}
