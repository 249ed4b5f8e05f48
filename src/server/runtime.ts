import path from "node:path";
import { DatabaseTooNew, FolderInUse, openDatabase, type Database } from "./db";
import { sealHere, sealNow, sealPlace, type SealPlace } from "./evidence";
import { log } from "./log";
import { answerWishes, backupFolder, backUpIfDue } from "./backups";

/** One database for the process, also when development loads modules anew. */
const held = globalThis as unknown as { yellowAnchorDatabase?: Promise<Database> };

const dataFolder = (): string =>
  path.resolve(/*turbopackIgnore: true*/ process.env.YELLOW_ANCHOR_DATA ?? ".data/main");

/** Where the key and the signed seals of these books lie. */
export const booksSealPlace = (): SealPlace => sealPlace(dataFolder());

/** Where banks, or what fetches from them, put their files: watched where that is switched on. */
export const booksBankFolder = (): string =>
  path.resolve(
    /*turbopackIgnore: true*/ process.env.YELLOW_ANCHOR_BANK_FILES ??
      path.join(dataFolder(), "bank-files"),
  );

/** Where backups that come by themselves lie. */
export const booksBackupFolder = (): string => backupFolder(dataFolder());

export function getDatabase(): Promise<Database> {
  held.yellowAnchorDatabase ??= openDatabase(
    process.env.DATABASE_URL ? { url: process.env.DATABASE_URL } : { folder: dataFolder() },
  );
  return held.yellowAnchorDatabase;
}

/** Opens the database, or says in a sentence why not and ends the process. */
export async function startUp(): Promise<void> {
  try {
    const database = await getDatabase();
    for (const signal of ["SIGINT", "SIGTERM"] as const)
      process.once(signal, () => void database.close().finally(() => process.exit(0)));
    log.info({ kind: database.kind }, "database open");
    // What comes by itself: looked for now and then; each date is taken once, whichever process
    // finds it.
    const look = () =>
      void import("./runs")
        .then(({ runDueSchedules }) => runDueSchedules(database))
        .catch((error: unknown) => log.error({ err: error }, "schedules"));
    setTimeout(look, 20_000).unref();
    setInterval(look, 15 * 60_000).unref();
    const takeFiles = () =>
      void import("./banks")
        .then(({ takeFolder }) => takeFolder(database, booksBankFolder()))
        .catch((error: unknown) => log.error({ err: error }, "bank files"));
    setInterval(takeFiles, 30_000).unref();
    // Long work goes on by and by, on a thread of its own.
    await import("./jobs").then(({ watchJobs }) => watchJobs(database));
    sealHere(booksSealPlace());
    // What has become final is sealed, so that nobody with the database changes it unseen.
    const seal = () =>
      void sealNow(database, booksSealPlace()).catch((error: unknown) =>
        log.error({ err: error }, "seal"),
      );
    setTimeout(seal, 30_000).unref();
    setInterval(seal, 15 * 60_000).unref();
    if (database.kind === "embedded") watchBackups(database);
  } catch (error) {
    process.stderr.write(`\n${explain(error)}\n\n`);
    process.exit(3);
  }
}

/** Backups that are due, and those that the command for administrators asks for. */
function watchBackups(database: Database): void {
  const folder = booksBackupFolder();
  const seals = booksSealPlace();
  const failed = (error: unknown) => log.error({ err: error }, "backup");
  const due = () => void backUpIfDue(database, { folder, seals }).catch(failed);
  const wish = () =>
    void answerWishes(database, { dataFolder: dataFolder(), folder, seals }).catch(failed);
  setInterval(due, 15 * 60_000).unref();
  setInterval(wish, 1_000).unref();
}

export function explain(error: unknown): string {
  if (error instanceof FolderInUse || error instanceof DatabaseTooNew) return error.message;
  const folder = dataFolder();
  const text = error instanceof Error ? error.message : String(error);
  if (/EACCES|EROFS|EPERM|read-only/i.test(text))
    return `The data folder ${folder} cannot be written. Give this account the right to write there, or choose another folder.`;
  if (/ENOSPC|no space/i.test(text))
    return `The disk that holds ${folder} is full. Make room and start again; nothing is lost.`;
  if (
    /ECONNREFUSED|ENOTFOUND|password authentication|does not exist/i.test(text) &&
    process.env.DATABASE_URL
  )
    return `The PostgreSQL server does not answer as DATABASE_URL says: ${text}`;
  return `The data folder ${folder} cannot be opened; it may be damaged (${text.slice(0, 200)}). Restore a backup: npm run admin -- restore FILE --data FOLDER. Automatic backups are in its folder backups.`;
}
