import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from "node:fs";
import path from "node:path";
import { writeWhole } from "../disk";

/** What is noted beside a backup. */
export interface BackupNote {
  /** The file, within the folder of backups or by its whole path. */
  file: string;
  /** Instant, UTC. */
  at: string;
  bytes: number;
  sha256: string;
  /** Who or what asked for it. */
  by: string;
  /** The last seal that it holds; 0 for none. */
  seal: number;
  /** Where each company's chain of journals stood in it. */
  heads: { company: string; seq: string; hash: string }[];
  /** What was found when it was restored into memory and verified; none where all holds. */
  faults: string[];
}

/** Where backups that come by themselves lie: in the data folder, or where the operator says. */
export const backupFolder = (dataFolder: string): string =>
  path.resolve(
    /*turbopackIgnore: true*/ process.env.YELLOW_ANCHOR_BACKUPS ?? path.join(dataFolder, "backups"),
  );

const PREFIX = "books-";
const noteOf = (file: string): string => `${file.replace(/\.tar\.gz$/, "")}.json`;

/** A name for a backup of this instant, which sorts by time. */
export const fileAt = (folder: string, now: Date): string =>
  path.join(folder, `${PREFIX}${now.toISOString().slice(0, 19).replace(/[:T]/g, "-")}.tar.gz`);

export const writeNote = (note: BackupNote): void =>
  writeWhole(noteOf(note.file), `${JSON.stringify(note, null, 2)}\n`);

/** The backups in a folder, newest first; what has no note beside it was not made as one. */
export function backupsIn(folder: string): BackupNote[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .filter((name) => name.startsWith(PREFIX) && name.endsWith(".json"))
    .sort()
    .reverse()
    .flatMap((name) => readNote(folder, name) ?? []);
}

/** The folder may have been moved since: the file is looked for beside its note. */
function readNote(folder: string, name: string): BackupNote | null {
  try {
    const note = JSON.parse(readFileSync(path.join(folder, name), "utf8")) as BackupNote;
    return { ...note, file: path.join(folder, path.basename(note.file)) };
  } catch {
    return null;
  }
}

/**
 * Deletes all but the newest backups of a folder. Those with faults do not count, and stay to be
 * looked at as long as newer ones that hold are fewer than are kept.
 */
export function deleteOlder(folder: string, keep: number): string[] {
  const all = backupsIn(folder);
  const last = all.filter((b) => b.faults.length === 0).at(keep - 1);
  if (!last) return [];
  const gone = all.filter((b) => b.at < last.at);
  for (const { file } of gone) {
    rmSync(file, { force: true });
    rmSync(noteOf(file), { force: true });
  }
  return gone.map((b) => b.file);
}

/** A folder for what is in the making; what an interrupted backup left is cleared. */
export function freshCopyFolder(folder: string): string {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const copy = path.join(folder, ".in-the-making");
  rmSync(copy, { recursive: true, force: true });
  mkdirSync(copy, { mode: 0o700 });
  return copy;
}
