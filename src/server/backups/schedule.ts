import { isBackupDue } from "@/core/backups";
import type { Database } from "../db";
import type { SealPlace } from "../evidence";
import { log } from "../log";
import { readPlan } from "./backups";
import { backupsIn, deleteOlder } from "./backupFiles";
import type { BackupWish } from "./makeBackup";
import { runBackup } from "./running";

/** Makes the backup that is due, if one is, and deletes those beyond what is kept. */
export async function backUpIfDue(
  database: Database,
  { folder, seals, now = new Date() }: { folder: string; seals: SealPlace; now?: Date },
): Promise<void> {
  if (database.kind !== "embedded") return;
  const plan = await readPlan(database.db);
  const last = backupsIn(folder)[0];
  const offset = -now.getTimezoneOffset();
  if (!isBackupDue(plan, last ? new Date(last.at) : null, now, offset)) return;
  await backUp(database, { folder, seals, by: "by schedule", now });
}

/** Makes a backup in the folder of backups, and deletes those beyond what is kept. Never throws. */
export async function backUp(
  database: Database,
  wish: Omit<BackupWish, "file" | "onStep">,
): Promise<void> {
  try {
    const made = await runBackup(database, wish);
    if (made) deleteOlder(wish.folder, (await readPlan(database.db)).keep);
  } catch (error) {
    log.error({ err: error }, "backups beyond those kept");
  }
}
