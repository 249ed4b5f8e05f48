import {
  closeSync,
  linkSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  writeSync,
} from "node:fs";
import path from "node:path";

export interface FolderLock {
  release(): void;
}

/**
 * The data folder is in use by another process. The message is for the person who started the
 * second one.
 */
export class FolderInUse extends Error {}

interface Holder {
  pid: number;
  /**
   * When that process started, in the kernel's ticks: tells it from a later process with the same
   * number.
   */
  started: string;
}

/**
 * Takes the folder for this process. The embedded database would be destroyed by a second process
 * without a word,
 * so this has to hold: the lock appears whole (by link), and is taken over only from a process that
 * is gone.
 */
export function lockFolder(folder: string): FolderLock {
  const file = path.join(folder, "in-use");
  const mine = path.join(folder, `in-use.${process.pid}`);
  const handle = openSync(mine, "w");
  writeSync(
    handle,
    JSON.stringify({ pid: process.pid, started: startOf(process.pid) ?? "" } satisfies Holder),
  );
  closeSync(handle);
  try {
    for (let attempt = 0; attempt < 5; attempt++) {
      try {
        linkSync(mine, file);
        const content = readFileSync(mine, "utf8");
        return { release: () => void (read(file) === content && rmSync(file, { force: true })) };
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
      }
      const content = read(file);
      if (content === null) continue;
      const holder = parse(content);
      if (holder && isAlive(holder))
        throw new FolderInUse(
          `The data folder ${folder} is in use by process ${holder.pid}. Stop that one first, or choose another folder.`,
        );
      // Moved aside rather than deleted: if another process was quicker, what we moved is its lock,
      // and we put it back.
      const aside = `${file}.old.${process.pid}`;
      try {
        renameSync(file, aside);
      } catch {
        continue;
      }
      if (read(aside) !== content) linkSync(aside, file);
      rmSync(aside, { force: true });
    }
    throw new FolderInUse(
      `The data folder ${folder} is being taken by another process. Try again.`,
    );
  } finally {
    rmSync(mine, { force: true });
  }
}

function read(file: string): string | null {
  try {
    return readFileSync(file, "utf8");
  } catch {
    return null;
  }
}

function parse(content: string): Holder | null {
  try {
    const holder = JSON.parse(content) as Partial<Holder>;
    return typeof holder.pid === "number"
      ? { pid: holder.pid, started: String(holder.started ?? "") }
      : null;
  } catch {
    return null;
  }
}

function isAlive(holder: Holder): boolean {
  try {
    process.kill(holder.pid, 0);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ESRCH") return false;
  }
  const started = startOf(holder.pid);
  return started === null || holder.started === "" || started === holder.started;
}

/** Start time of a process where the system tells it (Linux), else null. */
function startOf(pid: number): string | null {
  const stat = read(`/proc/${pid}/stat`);
  return stat === null ? null : (stat.slice(stat.lastIndexOf(")") + 2).split(" ")[19] ?? null);
}
