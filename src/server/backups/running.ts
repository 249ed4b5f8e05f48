import type { Database } from "../db";
import { log } from "../log";
import { makeBackup, type BackupWish } from "./makeBackup";
import type { BackupNote } from "./backupFiles";

/** What is being done at the moment, or why the last attempt failed. */
export interface BackupState {
  step: "copying" | "packing" | "restoring" | "verifying" | null;
  failure: string | null;
}

/** One at a time for the process, which alone holds the embedded books. */
const held = globalThis as unknown as { yellowAnchorBackup?: BackupState };

export const backupState = (): BackupState =>
  held.yellowAnchorBackup ?? { step: null, failure: null };

const set = (state: BackupState): void => void (held.yellowAnchorBackup = state);

/** Makes a backup unless one is being made; null then, and where it failed, which the state says. */
export async function runBackup(database: Database, wish: BackupWish): Promise<BackupNote | null> {
  if (backupState().step !== null) return null;
  set({ step: "copying", failure: null });
  try {
    const note = await makeBackup(database, {
      ...wish,
      onStep: (step) => set({ step, failure: null }),
    });
    set({ step: null, failure: null });
    return note;
  } catch (error) {
    log.error({ err: error }, "backup");
    set({ step: null, failure: reasonOf(error) });
    return null;
  }
}

function reasonOf(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error);
  if (/ENOSPC|no space/i.test(text)) return "The disk is full";
  if (/EACCES|EROFS|EPERM|read-only/i.test(text)) return "The folder cannot be written";
  return "The backup could not be made; the server's log says why";
}
