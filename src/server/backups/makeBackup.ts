import { mkdirSync, rmSync } from "node:fs";
import path from "node:path";
import { Worker } from "node:worker_threads";
import { writeAudit } from "../access";
import type { Database } from "../db";
import { partOf } from "../disk";
import { keptSeals, publicKeyOf, sealNow, type SealPlace } from "../evidence";
import { isBuilt, threadFromSources } from "../threads";
import { fileAt, freshCopyFolder, writeNote, type BackupNote } from "./backupFiles";
import type { PackingMessage, PackingStep, PackingTask } from "./backupThread";

export interface BackupWish {
  /** Folder where the copy is made, and the backup unless `file` says another place. */
  folder: string;
  /** The whole path of the file to write. */
  file?: string;
  seals: SealPlace;
  /** Who or what asks for it, as people read it; and the person, where one does. */
  by: string;
  personId?: number | null;
  now?: Date;
  /** Told what is being done. */
  onStep?: (step: "copying" | PackingStep) => void;
}

/**
 * Backs the embedded books up while people work: what is final is sealed, the files are copied in
 * one moment, and everything else (packing, restoring into memory, verifying) is done by a thread
 * of its own. The note says what was found; a backup with faults is kept, to be looked at.
 * Throws where the disk or the database fails; nothing half made is left under the file's name.
 */
export async function makeBackup(database: Database, wish: BackupWish): Promise<BackupNote> {
  const { folder, seals, by, personId = null, now = new Date(), onStep } = wish;
  await sealNow(database, seals, now);
  // Only what was signed before the copy has to be in it.
  const signed = keptSeals(seals);
  const file = wish.file ?? fileAt(folder, now);
  const copy = freshCopyFolder(folder);
  mkdirSync(path.dirname(file), { recursive: true });
  try {
    onStep?.("copying");
    await database.copyTo(copy);
    const task = { copy, file, seals: signed, key: publicKeyOf(seals) };
    const packed = await onThread(task, onStep);
    const note: BackupNote = { file, at: now.toISOString(), by, ...packed };
    writeNote(note);
    await writeAudit(database.db, personId, now, {
      action: note.faults.length === 0 ? "backed up" : "backed up, with faults",
      kind: "backup",
      recordId: path.basename(file),
      label: path.basename(file),
      after: { bytes: note.bytes, sha256: note.sha256, seal: note.seal, faults: note.faults },
    });
    return note;
  } finally {
    rmSync(copy, { recursive: true, force: true });
    rmSync(partOf(file), { force: true });
  }
}

type Packed = Extract<PackingMessage, { packed: unknown }>["packed"];

function onThread(task: PackingTask, onStep: BackupWish["onStep"]): Promise<Packed> {
  return new Promise((done, fail) => {
    const worker = startThread(task);
    worker.on("message", (message: PackingMessage) => {
      if ("step" in message) return onStep?.(message.step);
      void worker.terminate();
      done(message.packed);
    });
    worker.once("error", fail);
    worker.once("exit", () => fail(new Error("The thread ended before the backup was made")));
  });
}

const startThread = (workerData: PackingTask): Worker =>
  isBuilt()
    ? new Worker(new URL("./backupThread.ts", import.meta.url), { workerData })
    : threadFromSources("backups/backupThread.ts", { workerData });
