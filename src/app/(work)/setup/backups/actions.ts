"use server";
import {
  askForBackup,
  deleteOlder,
  getBackupPlan,
  runBackup,
  saveBackupPlan,
} from "@/server/backups";
import { booksBackupFolder, booksSealPlace } from "@/server/runtime";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveBackupPlanAction = async (input: unknown) =>
  answer(await saveBackupPlan(await actionCaller(), input));

/** Begins a backup; how it goes on is shown by the page. */
export async function backUpAction() {
  const caller = await actionCaller();
  const asked = await askForBackup(caller);
  const plan = await getBackupPlan(caller);
  if (asked.ok && plan.ok && caller.person) {
    const { id, name } = caller.person;
    const folder = booksBackupFolder();
    void runBackup(caller.database, {
      folder,
      seals: booksSealPlace(),
      by: name,
      personId: id,
    }).then((made) => made && deleteOlder(folder, plan.value.keep));
  }
  return answer(asked);
}
