import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { afterAll, describe, expect, inject, test } from "vitest";
import { admin, worldInFolder } from "../../../tests/folders";
import { callerOf, codes, must, written } from "../../../tests/world";
import { openDatabase, rows, type Database } from "../db";
import { createJournal } from "../ledger";
import { verify } from "../verify";
import { sealPlace } from "../evidence";
import {
  answerWishes,
  askForBackup,
  backupFolder,
  backupsIn,
  backUpIfDue,
  deleteOlder,
  makeBackup,
  saveBackupPlan,
  writeNote,
} from "./index";

const embedded = inject("server") === null;
const scratch = mkdtempSync(path.join(tmpdir(), "yellow-anchor-backups-"));
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

const open = async (name: string) => {
  const dataFolder = worldInFolder(path.join(scratch, name));
  const database = await openDatabase({ folder: dataFolder });
  const place = { dataFolder, folder: backupFolder(dataFolder), seals: sealPlace(dataFolder) };
  return { database, ...place };
};
const post = async (database: Database) =>
  must(await createJournal(await callerOf(database, "accountant"), { ...written(), post: true }))
    .number!;
const numbersIn = async (database: Database) =>
  (await rows<{ number: string }>(database.db, sql`select number from journal`)).map(
    (r) => r.number,
  );

describe.runIf(embedded)("backups while people work", () => {
  test("a backup holds all that was acknowledged before it, verifies, and posting goes on meanwhile", async () => {
    const { database, folder, seals } = await open("busy");
    const before = [await post(database), await post(database)];
    const meanwhile: string[] = [];
    let over = false;
    const posting = (async () => {
      while (!over) {
        meanwhile.push(await post(database));
        // People's requests come through the event loop; without it nothing else would.
        await new Promise((r) => setImmediate(r));
      }
    })();
    const steps: string[] = [];
    const note = await makeBackup(database, {
      folder,
      seals,
      by: "a test",
      onStep: (step) => steps.push(step),
    }).finally(() => (over = true));
    await posting;
    expect(steps).toEqual(["copying", "packing", "restoring", "verifying"]);
    expect(note.faults).toEqual([]);
    expect(meanwhile.length).toBeGreaterThan(5);
    // A drill: the file alone gives the books back.
    const restored = await openDatabase({ from: new Blob([readFileSync(note.file)]) });
    const there = new Set(await numbersIn(restored));
    expect(before.filter((n) => !there.has(n))).toEqual([]);
    expect((await verify(restored.db)).flatMap((c) => c.faults)).toEqual([]);
    expect(note.heads.find((h) => h.company === "ALP")?.seq).toBe(String(there.size));
    await restored.close();
    expect(readdirSync(folder).sort()).toEqual(
      [path.basename(note.file), path.basename(note.file).replace(".tar.gz", ".json")].sort(),
    );
    await database.close();
  });

  test("the command asks the server that holds the books; faults are said, and the file is kept", async () => {
    const { database, ...place } = await open("held");
    const number = await post(database);
    const watch = setInterval(() => void answerWishes(database, place), 100);
    const file = path.join(scratch, "held.tar.gz");
    const made = await admin(["backup", file, "--data", place.dataFolder]);
    expect(made).toMatchObject({
      code: 0,
      out: expect.stringMatching(
        /in use; the server.*\n.*\nRestored into memory and verified/,
      ) as string,
    });
    const restored = await openDatabase({ from: new Blob([readFileSync(file)]) });
    expect(await numbersIn(restored)).toEqual([number]);
    await restored.close();
    const two = ["first", "second"].map((name) => path.join(scratch, name));
    const both = await Promise.all(
      two.map((wanted) => admin(["backup", wanted, "--data", place.dataFolder])),
    );
    expect(both.map((b) => b.code)).toEqual([0, 0]);
    expect(two.every((wanted) => existsSync(wanted))).toBe(true);
    // Somebody with the database changes what was posted: the next backup says so.
    await database.db.execute(sql.raw("set session_replication_role = replica"));
    await database.db.execute(sql`update journal set description = 'another'`);
    await database.db.execute(sql.raw("set session_replication_role = default"));
    const faulty = await admin(["backup", path.join(scratch, "b"), "--data", place.dataFolder]);
    expect(faulty).toMatchObject({ code: 1, out: expect.stringMatching(/FAILS {2}/) as string });
    expect(existsSync(path.join(scratch, "b"))).toBe(true);
    clearInterval(watch);
    await database.close();
  });

  test("comes by itself when its hour has come, once, and as many are kept as were chosen", async () => {
    const { database, folder, seals } = await open("planned");
    const root = await callerOf(database, "root");
    must(await saveBackupPlan(root, { on: true, hour: 2, keep: 1 }));
    const at = (text: string) => backUpIfDue(database, { folder, seals, now: new Date(text) });
    await at("2026-11-03T12:00");
    await at("2026-11-03T13:00");
    await at("2026-11-04T01:00");
    expect(backupsIn(folder)).toHaveLength(1);
    await at("2026-11-04T02:30");
    expect(backupsIn(folder).map((b) => [b.by, new Date(b.at).getDate()])).toEqual([
      ["by schedule", 4],
    ]);
    must(await saveBackupPlan(root, { on: false, hour: 2, keep: 1 }));
    await at("2026-11-09T02:30");
    expect(backupsIn(folder)).toHaveLength(1);
    expect(codes(await saveBackupPlan(root, { on: true, hour: 24, keep: 0 }))).toEqual([
      "INVALID",
      "INVALID",
    ]);
    await database.close();
  });

  test("what is kept counts those that hold; one with faults takes no good one's place", () => {
    const folder = mkdtempSync(path.join(scratch, "kept-"));
    const at = (day: number, faults: string[] = []) => {
      const file = path.join(folder, `books-2026-11-0${day}.tar.gz`);
      writeFileSync(file, "");
      const rest = { bytes: 0, sha256: "", by: "", seal: 0, heads: [], faults };
      writeNote({ file, at: `2026-11-0${day}T02:00:00.000Z`, ...rest });
    };
    [1, 2, 3].forEach((day) => at(day));
    [4, 5].forEach((day) => at(day, ["does not agree"]));
    deleteOlder(folder, 2);
    expect(backupsIn(folder).map((b) => b.at.slice(9, 10))).toEqual(["5", "4", "3", "2"]);
  });
});

test("only who administers the whole group may have one made", async () => {
  if (!embedded) return;
  const { database } = await open("rights");
  expect(codes(await askForBackup(await callerOf(database, "accountant")))).toEqual(["FORBIDDEN"]);
  must(await askForBackup(await callerOf(database, "root")));
  await database.close();
});
