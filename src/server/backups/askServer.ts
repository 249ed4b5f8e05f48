import { randomUUID } from "node:crypto";
import { existsSync, readdirSync, readFileSync, rmSync } from "node:fs";
import path from "node:path";
import type { Database } from "../db";
import { writeWhole } from "../disk";
import type { SealPlace } from "../evidence";
import type { BackupNote } from "./backupFiles";
import { backupState, runBackup } from "./running";

// The command for administrators cannot open books that a server holds. It leaves a wish in the
// data folder, where only the account of the server may write, and waits for the answer beside it.

// Each wish has a name of its own, so that two commands at once each get their answer.

const WISH = /^backup-wanted-([0-9a-f-]+)\.json$/;
const wishFile = (folder: string, id: string): string =>
  path.join(folder, `backup-wanted-${id}.json`);
const answerFile = (folder: string, id: string): string =>
  path.join(folder, `backup-answer-${id}.json`);

interface WishPlace {
  dataFolder: string;
  /** Where backups lie. */
  folder: string;
  seals: SealPlace;
}
type Answer = { note: BackupNote } | { failure: string };

/** Asks the server that holds a data folder for a backup; null where it does not take the wish up. */
export async function askServer(
  folder: string,
  file: string,
  patience = { takeUp: 15_000, whole: 30 * 60_000 },
): Promise<Answer | null> {
  const id = randomUUID();
  const wish = wishFile(folder, id);
  const answered = answerFile(folder, id);
  writeWhole(wish, JSON.stringify({ file }), 0o600);
  const from = Date.now();
  for (;;) {
    await new Promise((r) => setTimeout(r, 250));
    if (existsSync(answered)) {
      const answer = JSON.parse(readFileSync(answered, "utf8")) as Answer;
      rmSync(answered, { force: true });
      return answer;
    }
    const waited = Date.now() - from;
    if (waited > patience.whole || (waited > patience.takeUp && existsSync(wish))) {
      rmSync(wish, { force: true });
      return null;
    }
  }
}

/** Wishes that were taken up, one after the other. */
let taken: Promise<void> = Promise.resolve();

/** Takes up the wishes that were left in the data folder; ends when they are answered. */
export function answerWishes(database: Database, place: WishPlace): Promise<void> {
  for (const name of readdirSync(place.dataFolder)) {
    const id = WISH.exec(name)?.[1];
    if (id === undefined) continue;
    const wish = wishFile(place.dataFolder, id);
    const text = readFileSync(wish, "utf8");
    // Taken away first: whoever asks knows that it is heard, and one that cannot be understood is
    // not looked at again and again.
    rmSync(wish, { force: true });
    taken = taken.catch(() => {}).then(() => answerWish(database, place, id, text));
  }
  return taken;
}

async function answerWish(
  database: Database,
  { dataFolder, folder, seals }: WishPlace,
  id: string,
  text: string,
): Promise<void> {
  const { file } = JSON.parse(text) as { file: string };
  while (backupState().step !== null) await new Promise((r) => setTimeout(r, 250));
  const note = await runBackup(database, { folder, file, seals, by: "by command" });
  const failure = backupState().failure ?? "The backup could not be made";
  const answer: Answer = note ? { note } : { failure };
  writeWhole(answerFile(dataFolder, id), JSON.stringify(answer), 0o600);
}
