import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import type { Database } from "../db";
import type { SealPlace } from "../evidence";
import type { BackupNote } from "./backupFiles";
import { backupState, runBackup } from "./running";

// The command for administrators cannot open books that a server holds. It leaves a wish in the
// data folder, where only the account of the server may write, and waits for the answer beside it.

const wishFile = (folder: string): string => path.join(folder, "backup-wanted.json");
const answerFile = (folder: string): string => path.join(folder, "backup-answer.json");

type Answer = { note: BackupNote } | { failure: string };

/** Asks the server that holds a data folder for a backup; null where it does not take the wish up. */
export async function askServer(
  folder: string,
  file: string,
  patience = { takeUp: 15_000, whole: 30 * 60_000 },
): Promise<Answer | null> {
  rmSync(answerFile(folder), { force: true });
  writeFileSync(`${wishFile(folder)}.part`, JSON.stringify({ file }), { mode: 0o600 });
  renameSync(`${wishFile(folder)}.part`, wishFile(folder));
  const from = Date.now();
  for (;;) {
    await new Promise((r) => setTimeout(r, 250));
    if (existsSync(answerFile(folder))) {
      const answer = JSON.parse(readFileSync(answerFile(folder), "utf8")) as Answer;
      rmSync(answerFile(folder), { force: true });
      return answer;
    }
    const waited = Date.now() - from;
    if (waited > patience.whole || (waited > patience.takeUp && existsSync(wishFile(folder)))) {
      rmSync(wishFile(folder), { force: true });
      return null;
    }
  }
}

/** Takes up a wish that was left in the data folder, where there is one. */
export async function answerWish(
  database: Database,
  place: { dataFolder: string; folder: string; seals: SealPlace },
): Promise<void> {
  const wish = wishFile(place.dataFolder);
  if (!existsSync(wish)) return;
  const text = readFileSync(wish, "utf8");
  // Taken away first: one that cannot be understood is not looked at again and again.
  rmSync(wish, { force: true });
  const { file } = JSON.parse(text) as { file: string };
  const { folder, seals } = place;
  const note = await runBackup(database, { folder, file, seals, by: "by command" });
  const failure = backupState().failure ?? "A backup is being made already";
  const answer: Answer = note ? { note } : { failure };
  const into = answerFile(place.dataFolder);
  writeFileSync(`${into}.part`, JSON.stringify(answer), { mode: 0o600 });
  renameSync(`${into}.part`, into);
}
