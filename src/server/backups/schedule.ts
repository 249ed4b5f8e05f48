import { isBackupDue } from "@/core/backups";
import type { Database } from "../db";
import type { SealPlace } from "../evidence";
import { readPlan } from "./backups";
import { backupsIn, deleteOlder } from "./backupFiles";
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
  const made = await runBackup(database, { folder, seals, by: "by schedule", now });
  if (made) deleteOlder(folder, plan.keep);
}
