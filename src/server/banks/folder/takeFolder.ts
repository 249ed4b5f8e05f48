import { mkdir, readdir, readFile, rename, stat, writeFile } from "node:fs/promises";
import path from "node:path";
import { sql } from "drizzle-orm";
import { describeFound } from "@/core/shared";
import { actingPerson, type Caller } from "../../access";
import { readSetting, rows, type Database } from "../../db";
import { MAX_STATEMENT_FILE } from "../statements/bankFile";
import { importStatements } from "../statements/importStatements";
import { FOLDER_SETTING, type FolderSetting } from "./folderSetting";

/** A file that was written so long ago is complete: whoever puts it there may write it in parts. */
const QUIET_MS = 5_000;
/** A file that has been worked on for so long belongs to a process that is gone. */
const LEFT_MS = 10 * 60_000;
/** Files that are taken at a time; more follow the next time. */
const MOST = 20;

/**
 * Takes in what banks have put into the folder of the server, one file after the other, as the person
 * who has said so. Each is moved once it is done: to `taken`, or to `refused` beside a text that says
 * why. Of several processes that look at one folder, one takes each file. Returns how many were done.
 */
export async function takeFolder(
  database: Database,
  folder: string,
  clock?: () => Date,
): Promise<number> {
  const now = clock ?? (() => new Date());
  const setting = await readSetting<FolderSetting>(database.db, FOLDER_SETTING);
  if (!setting?.personId) return 0;
  const person = await actingPerson(database, setting.personId);
  if (!person) return 0;
  for (const name of ["", "working", "taken", "refused"])
    await mkdir(path.join(folder, name), { recursive: true });
  await putBack(folder, now());
  let done = 0;
  for (const name of await quietFiles(folder, now())) {
    const working = path.join(folder, "working", name);
    // Whoever moves it first has it.
    const moved = await rename(path.join(folder, name), working).then(() => true, gone);
    if (!moved) continue;
    const { fileId, says } = await takeIn(
      { database, person, ...(clock ? { now } : {}) },
      working,
      name,
    );
    await note(database, { name, personId: person.id, at: now(), fileId, says });
    const to = path.join(folder, says === "" ? "taken" : "refused", `${stamp(now())} ${name}`);
    await rename(working, to);
    if (says !== "") await writeFile(`${to}.txt`, `${says}\n`);
    done++;
  }
  return done;
}

/** What a file brought, or why it is refused. */
async function takeIn(
  caller: Caller,
  file: string,
  name: string,
): Promise<{ fileId: number | null; says: string }> {
  if ((await stat(file)).size > MAX_STATEMENT_FILE)
    return { fileId: null, says: "The file is larger than 50 MB." };
  const content = (await readFile(file)).toString("base64");
  const taken = await importStatements(caller, {
    name: name.slice(-200),
    content,
    byFolder: true,
  });
  return taken.ok
    ? { fileId: taken.value.isComing ? null : taken.value.file, says: "" }
    : { fileId: null, says: taken.problems.map(describeFound).join(" ") };
}

/** Names of the files that nobody is writing any more, the oldest first. */
async function quietFiles(folder: string, now: Date): Promise<string[]> {
  const found: { name: string; at: number }[] = [];
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    if (!entry.isFile() || entry.name.startsWith(".")) continue;
    const of = await stat(path.join(folder, entry.name)).catch(gone);
    if (of && now.getTime() - of.mtimeMs >= QUIET_MS)
      found.push({ name: entry.name, at: of.mtimeMs });
  }
  return found
    .sort((a, b) => a.at - b.at || (a.name < b.name ? -1 : 1))
    .slice(0, MOST)
    .map((f) => f.name);
}

/** What a process that is gone has left half done is there again: the same file comes in once only. */
async function putBack(folder: string, now: Date): Promise<void> {
  for (const name of await readdir(path.join(folder, "working"))) {
    const from = path.join(folder, "working", name);
    const of = await stat(from).catch(gone);
    if (of && now.getTime() - of.ctimeMs >= LEFT_MS)
      await rename(from, path.join(folder, name)).catch(gone);
  }
}

/** Another process has moved it meanwhile; anything else is a fault. */
const gone = (error: NodeJS.ErrnoException): null => {
  if (error.code === "ENOENT") return null;
  throw error;
};

const stamp = (at: Date): string => at.toISOString().slice(0, 19).replace(/:/g, "-");

async function note(
  database: Database,
  of: { name: string; personId: number; at: Date; fileId: number | null; says: string },
): Promise<void> {
  await rows(
    database.db,
    sql`insert into folder_file (name, taken_by, at, file_id, says)
      values (${of.name.slice(0, 200)}, ${of.personId}, ${of.at.toISOString()}, ${of.fileId},
        ${of.says.slice(0, 2000)}) returning id`,
  );
}
