"use server";
import { askForBackup, backUp, saveBackupPlan } from "@/server/backups";
import { booksBackupFolder, booksSealPlace } from "@/server/runtime";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveBackupPlanAction = async (input: unknown) =>
  answer(await saveBackupPlan(await actionCaller(), input));

/** Begins a backup; how it goes on is shown by the page. */
export async function backUpAction() {
  const caller = await actionCaller();
  const asked = await askForBackup(caller);
  if (asked.ok && caller.person) {
    const { id: personId, name: by } = caller.person;
    const place = { folder: booksBackupFolder(), seals: booksSealPlace() };
    void backUp(caller.database, { ...place, by, personId });
  }
  return answer(asked);
}
