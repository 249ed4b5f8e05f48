import { execFileSync, spawn, type ChildProcess } from "node:child_process";
import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  rmSync,
  statfsSync,
  unlinkSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { afterAll, describe, expect, inject, test } from "vitest";
import { callerOf, journal, months, must, runAs, written } from "../../../tests/world";
import { FailingDisk } from "../../../tests/failingDisk";
import { admin, worldInFolder } from "../../../tests/folders";
import { world } from "../../../tests/useWorld";
import { createJournal, postDrafts, trialBalance } from "../ledger";
import { verify } from "../verify";
import { switchPeriods } from "../organisation";
import { DatabaseTooNew, FolderInUse, openDatabase, rows } from "./index";

const embedded = inject("server") === null;
const scratch = mkdtempSync(path.join(tmpdir(), "yellow-anchor-survival-"));
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

/** Numbers from 0 up to 1 that follow from a seed. */
function chanceFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

/**
 * Posts journals in a world whose disk loses its power at some of its writes: of each failure the
 * folder that it leaves, and the numbers that had been acknowledged.
 */
async function powerFailures(name: string, writes: readonly number[], lies = false) {
  let disk: FailingDisk | undefined;
  const database = await openDatabase({
    folder: worldInFolder(path.join(scratch, `${name}-running`)),
    files: (place) => (disk = new FailingDisk(place, chanceFrom(7), lies)),
  });
  const accountant = await callerOf(database, "accountant");
  const acknowledged: string[] = [];
  const failures: { folder: string; acknowledged: string[] }[] = [];
  disk!.watch();
  for (const [round, count] of writes.entries()) {
    const folder = path.join(scratch, `${name}-${round}`);
    disk!.failAtWrite(count, path.join(folder, "db"), () =>
      failures.push({ folder, acknowledged: [...acknowledged] }),
    );
    while (failures.length <= round) {
      const { number } = must(await createJournal(accountant, { ...written(), post: true }));
      acknowledged.push(number!);
      // What was logged goes to its place now and then, so that the failure can fall into that.
      if (round % 2 === 1 && acknowledged.length % 7 === 0)
        await database.db.execute(sql`checkpoint`);
    }
  }
  await database.close();
  return failures;
}

/** Opens the folder as the next start does, and says which numbers are not there. */
async function lostOf(folder: string, numbers: readonly string[]): Promise<string[]> {
  const database = await openDatabase({ folder });
  try {
    expect((await verify(database.db)).flatMap((c) => c.faults)).toEqual([]);
    const there = await rows<{ number: string }>(database.db, sql`select number from journal`);
    const found = new Set(there.map((r) => r.number));
    return numbers.filter((n) => !found.has(n));
  } finally {
    await database.close();
  }
}

const folderWithWorld = (name: string) => worldInFolder(path.join(scratch, name));
const poster = (...args: string[]): ChildProcess =>
  spawn(process.execPath, ["scripts/fromSources.mjs", "tests/programs/postForever.ts", ...args], {
    stdio: ["ignore", "pipe", "inherit"],
  });
describe.runIf(embedded)("a data folder", () => {
  test("survives kill -9 at random moments: every acknowledged journal is there, none is half there, the next start needs no help", async () => {
    const folder = await folderWithWorld("killed");
    const acknowledged: string[] = [];
    for (let round = 0; round < 3; round++) {
      const child = poster(folder);
      let text = "";
      let seen = () => {};
      const enough = new Promise<void>((resolve) => (seen = resolve));
      child.stdout!.on("data", (chunk: Buffer) => {
        text += chunk.toString();
        if (text.split("\n").length > 5 + round) seen();
      });
      child.once("exit", seen);
      await enough;
      await new Promise((r) => setTimeout(r, (round * 7) % 23));
      child.kill("SIGKILL");
      await new Promise((r) => child.once("exit", r));
      acknowledged.push(
        ...text
          .slice(0, text.lastIndexOf("\n") + 1)
          .split("\n")
          .filter((l) => l.startsWith("ALP")),
      );
      expect(await lostOf(folder, acknowledged)).toEqual([]);
    }
    expect(new Set(acknowledged).size).toBe(acknowledged.length);
    expect(acknowledged.length).toBeGreaterThan(10);
  });

  test("survives the loss of power: what was flushed is enough for every acknowledged journal, whatever else reached the disk", async () => {
    const failures = await powerFailures("power", [25, 90, 200, 130]);
    for (const { folder, acknowledged } of failures)
      expect(await lostOf(folder, acknowledged)).toEqual([]);
    expect(failures.at(-1)!.acknowledged.length).toBeGreaterThan(20);
  });

  test("loses what a disk acknowledges that flushes nothing, so the test above could fail", async () => {
    const [failure] = await powerFailures("lying", [120], true);
    const outcome = await lostOf(failure!.folder, failure!.acknowledged).catch(
      (error: unknown) => error,
    );
    expect(outcome).not.toEqual([]);
  });

  test("belongs to one process: a second one is refused with a sentence, and a lock left by a dead one is taken over", async () => {
    const folder = await folderWithWorld("shared");
    const child = poster(folder, "ALP", "3");
    await new Promise<void>((resolve) => child.stdout!.once("data", () => resolve()));
    await expect(openDatabase({ folder })).rejects.toThrow(FolderInUse);
    child.kill("SIGKILL");
    await new Promise((r) => child.once("exit", r));
    writeFileSync(path.join(folder, "in-use"), JSON.stringify({ pid: process.pid, started: "1" }));
    const database = await openDatabase({ folder });
    await database.close();
  });

  test("from a newer version is refused; an older one is migrated after a backup", async () => {
    const folder = await folderWithWorld("versions");
    let database = await openDatabase({ folder });
    await database.db.execute(sql`insert into migration (tag, hash) values ('9999_future', 'x')`);
    await database.close();
    await expect(openDatabase({ folder })).rejects.toThrow(DatabaseTooNew);
    expect(existsSync(path.join(folder, "in-use"))).toBe(false);
    const other = await folderWithWorld("older");
    database = await openDatabase({ folder: other });
    await database.db.execute(sql`delete from migration where tag like '0002%'`);
    await database.close();
    database = await openDatabase({ folder: other });
    expect((await verify(database.db)).flatMap((c) => c.faults)).toEqual([]);
    await database.close();
    expect(readdirSync(path.join(other, "backups"))).toHaveLength(1);
  });

  test("is backed up to one file and restored from it; what is no backup changes nothing; a damaged folder is a clear refusal", async () => {
    const folder = await folderWithWorld("backup");
    const file = path.join(scratch, "books.tar.gz");
    expect((await admin(["backup", file, "--data", folder])).code).toBe(0);
    let database = await openDatabase({ folder });
    must(await createJournal(await callerOf(database, "accountant"), { ...written(), post: true }));
    await database.close();
    const nonsense = path.join(scratch, "nonsense");
    writeFileSync(nonsense, "not a backup");
    expect(await admin(["restore", nonsense, "--data", folder])).toMatchObject({
      code: 2,
      out: expect.stringMatching(/nothing was changed/) as string,
    });
    expect(await admin(["restore", file, "--data", folder])).toMatchObject({
      code: 0,
      out: expect.stringMatching(/verified/) as string,
    });
    expect((await admin(["verify", "--data", folder])).out).toMatch(
      /holds {2}Hash chain of ALP \(0 looked at\)/,
    );
    database = await openDatabase({ folder });
    expect(await rows(database.db, sql`select 1 from journal`)).toHaveLength(0);
    await database.close();
    copyFileSync(nonsense, path.join(folder, "db", "PG_VERSION"));
    expect(await admin(["verify", "--data", folder])).toMatchObject({
      code: 3,
      out: expect.stringMatching(/may be damaged.*Restore a backup/) as string,
    });
  });
});

/** A small disk of its own, where this account may make one. */
function smallDisk(
  megabytes: number,
): { folder: string; readOnly(): void; free(): number; remove(): void } | null {
  const folder = mkdtempSync(path.join(scratch, "disk-"));
  const mount = (...args: string[]) => execFileSync("mount", args, { stdio: "ignore" });
  try {
    mount("-t", "tmpfs", "-o", `size=${megabytes}m`, "tmpfs", folder);
  } catch {
    return null;
  }
  return {
    folder,
    readOnly: () => mount("-o", "remount,ro", folder),
    free: () => {
      const s = statfsSync(folder);
      return s.bavail * s.bsize;
    },
    remove: () => execFileSync("umount", [folder], { stdio: "ignore" }),
  };
}

const disk = embedded ? smallDisk(150) : null;
describe.runIf(disk !== null)("a disk", () => {
  test("that is full refuses with a sentence and loses nothing; with room again, work goes on; read-only, the start says so", async () => {
    const { folder, free, readOnly, remove } = disk!;
    try {
      const data = path.join(folder, "data");
      let database = await openDatabase({ folder: worldInFolder(data) });
      const root = await callerOf(database, "root");
      const post = () =>
        runAs(root, (c) =>
          postDrafts(
            c,
            Array.from({ length: 50 }, () => journal()),
          ),
        );
      must(await post());
      const filler = path.join(folder, "filler");
      writeFileSync(filler, Buffer.alloc(Math.max(0, free() - 400_000)));
      let posted = 50;
      let refused = null;
      for (let i = 0; i < 200 && !refused; i++) {
        const result = await post();
        if (result.ok) posted += 50;
        else refused = result.problems[0];
      }
      expect(refused).toMatchObject({
        code: "UNAVAILABLE",
        what: expect.stringContaining("The disk is full; nothing was saved") as string,
      });
      unlinkSync(filler);
      must(await post());
      expect(await rows(database.db, sql`select 1 from journal`)).toHaveLength(posted + 50);
      expect((await verify(database.db)).flatMap((c) => c.faults)).toEqual([]);
      await database.close();
      database = await openDatabase({ folder: data });
      expect(await rows(database.db, sql`select 1 from journal`)).toHaveLength(posted + 50);
      await database.close();
      readOnly();
      expect(await admin(["verify", "--data", data])).toMatchObject({
        code: 3,
        out: expect.stringMatching(/cannot be written/) as string,
      });
    } finally {
      remove();
    }
  });
});

const w = world();
describe("a clock that is set back", () => {
  test("stops nobody; instants in the chain never go back, and reports as known then stay as they were", async () => {
    const root = await callerOf(w.database, "root");
    const at = (iso: string) => ({ ...root, now: () => new Date(iso) });
    const post = async (iso: string) =>
      must(await createJournal(at(iso), { ...written({ company: "BET" }), post: true }));
    await post("2030-05-01T10:00:00Z");
    const asKnown = "2030-05-01T10:30:00Z";
    const before = must(await trialBalance(root, { company: "BET", period: "2026-10", asKnown }));
    await post("2030-05-01T11:00:00Z");
    await post("2029-01-01T00:00:00Z");
    expect(must(await trialBalance(root, { company: "BET", period: "2026-10", asKnown }))).toEqual(
      before,
    );
    const instants = await rows<{ at: string }>(
      w.database.db,
      sql`select posted_at as at from journal where company_id = 2 order by seq`,
    );
    expect(instants.map((i) => i.at)).toEqual([...instants.map((i) => i.at)].sort());
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });
});

describe.runIf(!embedded)("two processes on one server", () => {
  test("number without a gap or a double, and lose no update", async () => {
    const each = 60;
    await Promise.all(
      ["ALP", "ALP", "BET"].map(
        (company) =>
          new Promise<void>((resolve, reject) => {
            const child = poster(w.url!, company, String(each));
            child.stdout!.resume();
            child.once("exit", (code) =>
              code === 0 ? resolve() : reject(new Error(`ended with ${code}`)),
            );
          }),
      ),
    );
    const numbers = await rows<{ number: string }>(
      w.database.db,
      sql`select number from journal where company_id = 1 order by number`,
    );
    expect(numbers.map((n) => n.number)).toEqual(
      Array.from({ length: 2 * each }, (_, i) => `ALP-26-${String(i + 1).padStart(5, "0")}`),
    );
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });

  test("never post into a period that has just been closed", async () => {
    const root = await callerOf(w.database, "root");
    const other = await openDatabase({ url: w.url! });
    const accountant = await callerOf(other, "accountant");
    must(
      await switchPeriods(root, {
        company: "BET",
        book: "all",
        area: "ledger",
        periods: [...months("2025", 1, 13), ...months("2026", 1, 9)],
        to: "closed",
      }),
    );
    let stopped = false;
    const results: { ok: boolean; seq: bigint | null }[] = [];
    const posting = (async () => {
      while (!stopped) {
        const r = await createJournal(accountant, { ...written({ company: "BET" }), post: true });
        results.push({ ok: r.ok, seq: null });
      }
    })();
    await new Promise((r) => setTimeout(r, 400));
    must(
      await switchPeriods(root, {
        company: "BET",
        book: "all",
        area: "ledger",
        periods: ["2026-10"],
        to: "closed",
      }),
    );
    const [atClose] = await rows<{ seq: bigint }>(
      w.database.db,
      sql`select seq from chain where company_id = 2`,
    );
    await new Promise((r) => setTimeout(r, 300));
    stopped = true;
    await posting;
    await other.close();
    const [after] = await rows<{ seq: bigint }>(
      w.database.db,
      sql`select seq from chain where company_id = 2`,
    );
    expect(after!.seq).toBe(atClose!.seq);
    expect(results.some((r) => r.ok)).toBe(true);
    expect(results.at(-1)!.ok).toBe(false);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });
});
