// npm run admin -- verify [--against FILE] | seal | key | backup FILE | restore FILE [--data FOLDER]:
// for a data folder that no server holds (or, for verify and seal, DATABASE_URL); a backup is made
// by the server where one holds it.
import {
  existsSync,
  mkdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statfsSync,
  statSync,
} from "node:fs";
import path from "node:path";
import { askServer, backupFolder, makeBackup } from "../backups";
import { FolderInUse, openDatabase } from "../db";
import { lockFolder } from "../db/folderLock";
import { flush } from "../disk";
import { verify } from "../verify";
import { explain } from "../runtime";
import {
  faultsOfSeals,
  keptSeals,
  publicKeyOf,
  putAside,
  readSeal,
  readSeals,
  sealNow,
  sealPlace,
} from "../evidence";

const args = process.argv.slice(2);
const at = args.indexOf("--data");
const folder = path.resolve(
  at >= 0 ? (args[at + 1] ?? "") : (process.env.YELLOW_ANCHOR_DATA ?? ".data/main"),
);
const against = args.indexOf("--against");
const named = (i: number) =>
  [at, against].some((option) => option >= 0 && (i === option || i === option + 1));
const [command, file] = args.filter((_, i) => !named(i));
process.env.YELLOW_ANCHOR_DATA = folder;
const url = process.env.DATABASE_URL;
const say = (line: string): void => void process.stdout.write(`${line}\n`);

async function main(): Promise<number> {
  if (command === "verify") {
    if (!url && !existsSync(path.join(folder, "db", "PG_VERSION")))
      return refuse(`There are no books in ${folder}.`);
    const database = await openDatabase(url ? { url } : { folder });
    const checks = await verify(database.db);
    const place = sealPlace(folder);
    const outside =
      against >= 0 ? [readSeal(path.resolve(args[against + 1] ?? ""))] : keptSeals(place);
    if (outside.length > 0) {
      const { faults } = await faultsOfSeals(
        database.db,
        outside,
        publicKeyOf(place) ?? outside[0]!.key,
      );
      checks.push({
        name: `Signed seals ${outside[0]!.no} to ${outside.at(-1)!.no} are in the books`,
        looked: outside.length,
        faults,
      });
    }
    await database.close();
    for (const c of checks) {
      say(
        `${c.faults.length === 0 ? "holds" : "FAILS"}  ${c.name} (${c.looked.toLocaleString("en")} looked at)`,
      );
      for (const fault of c.faults) say(`       ${fault}`);
    }
    return checks.some((c) => c.faults.length > 0) ? 1 : 0;
  }
  if (command === "seal") {
    const database = await openDatabase(url ? { url } : { folder });
    const seal = await sealNow(database, sealPlace(folder));
    await database.close();
    say(seal ? `Seal ${seal.no}: ${seal.digest}` : "Nothing is new since the last seal.");
    return 0;
  }
  if (command === "key") {
    say(publicKeyOf(sealPlace(folder)) ?? "There is no key yet: it is made with the first seal.");
    return 0;
  }
  if (command === "backup" && file) {
    if (url) return refuse("A PostgreSQL server is backed up with pg_dump.");
    if (!existsSync(path.join(folder, "db", "PG_VERSION")))
      return refuse(`There are no books in ${folder}.`);
    return backUp(path.resolve(file));
  }
  if (command === "restore" && file) {
    if (url) return refuse("A PostgreSQL server is restored with pg_restore.");
    if (!existsSync(file) || !statSync(file).isFile()) return refuse(`There is no file ${file}.`);
    mkdirSync(folder, { recursive: true });
    const free = statfsSync(folder);
    if (free.bavail * free.bsize < statSync(file).size * 6)
      return refuse("The disk has not enough room for what the backup unpacks to.");
    const lock = lockFolder(folder);
    const fresh = path.join(folder, "restoring");
    rmSync(fresh, { recursive: true, force: true });
    let sealed = 0;
    try {
      const database = await openDatabase({ folder: fresh, from: new Blob([readFileSync(file)]) });
      const faults = (await verify(database.db)).flatMap((c) => c.faults);
      sealed = (await readSeals(database.db)).at(-1)?.no ?? 0;
      await database.close();
      if (faults.length > 0) {
        rmSync(fresh, { recursive: true, force: true });
        return refuse(
          `The backup does not verify, and nothing was changed: ${faults.slice(0, 3).join("; ")}`,
        );
      }
    } catch (error) {
      rmSync(fresh, { recursive: true, force: true });
      lock.release();
      return refuse(
        `${file} is not a backup of Yellow Anchor, or is damaged; nothing was changed. ${reasonOf(error)}`,
      );
    }
    const kept = path.join(
      folder,
      `db-before-restore-${new Date().toISOString().replace(/[:.]/g, "-")}`,
    );
    const had = existsSync(path.join(folder, "db"));
    if (had) renameSync(path.join(folder, "db"), kept);
    renameSync(path.join(fresh, "db"), path.join(folder, "db"));
    flush(folder);
    rmSync(fresh, { recursive: true, force: true });
    lock.release();
    const aside = putAside(sealPlace(folder), sealed);
    if (aside.length > 0)
      say(
        `Seals after ${sealed} were put aside in ${path.dirname(aside[0]!)}: they speak of what came after the backup.`,
      );
    say(`Restored and verified.${had ? ` What was there before is in ${kept}.` : ""}`);
    return 0;
  }
  return refuse(
    "npm run admin -- verify [--against FILE] | seal | key | backup FILE | restore FILE [--data FOLDER]",
  );
}

/** Backs up to a file: by itself, or through the server that holds the books. */
async function backUp(into: string): Promise<number> {
  const made = await openDatabase({ folder }).then(
    async (database) => {
      const seals = sealPlace(folder);
      const wish = { folder: backupFolder(folder), file: into, seals, by: "by command" };
      const note = await makeBackup(database, wish);
      await database.close();
      return { note };
    },
    (error: unknown) => {
      if (!(error instanceof FolderInUse)) throw error;
      say("The books are in use; the server that holds them makes the backup.");
      return askServer(folder, into);
    },
  );
  if (!made)
    return refuse(
      `${folder} is in use by a process that makes no backups, such as another command.`,
    );
  if ("failure" in made) return refuse(made.failure);
  const { bytes, sha256, seal, faults } = made.note;
  say(`${into}: ${(bytes / 1_048_576).toFixed(1)} MB, sha256 ${sha256}, up to seal ${seal}`);
  for (const fault of faults) say(`FAILS  ${fault}`);
  if (faults.length === 0) say("Restored into memory and verified.");
  return faults.length === 0 ? 0 : 1;
}

/** Why, in a sentence for people: what the database itself was asked is none. */
const reasonOf = (error: unknown): string =>
  error instanceof Error && !/query/i.test(error.message)
    ? ` (${error.message.slice(0, 120)})`
    : "";

function refuse(message: string): number {
  process.stderr.write(`\n${message}\n\n`);
  return 2;
}

main().then(
  (code) => process.exit(code),
  (error: unknown) => {
    process.stderr.write(`\n${explain(error)}\n\n`);
    process.exit(3);
  },
);
