import { createHash } from "node:crypto";
import { readFileSync, rmSync } from "node:fs";
import { parentPort, workerData } from "node:worker_threads";
import { sql } from "drizzle-orm";
import { openDatabase, rows, type Database } from "../db";
import { movePart, partOf, writePart } from "../disk";
import { faultsOfSeals, readSeals, type SignedSeal } from "../evidence";
import { verify } from "../verify";
import type { BackupNote } from "./backupFiles";

/** What the thread is started with: it packs a copy, restores it into memory, verifies, and ends. */
export interface PackingTask {
  /** Folder with the copied files; it is deleted. */
  copy: string;
  /** The file to write. */
  file: string;
  /** Seals signed outside the books, and the key that they were signed with. */
  seals: SignedSeal[];
  key: string | null;
}
export type PackingStep = "packing" | "restoring" | "verifying";
export type PackingMessage =
  | { step: PackingStep }
  | { packed: Pick<BackupNote, "bytes" | "sha256" | "seal" | "heads" | "faults"> };

const { copy, file, seals, key } = workerData as PackingTask;
const say = (message: PackingMessage): void => parentPort!.postMessage(message);

say({ step: "packing" });
const copied = await openDatabase({ folder: copy, here: true });
const packed = Buffer.from(await (await copied.dump()).arrayBuffer());
await copied.close();
rmSync(copy, { recursive: true, force: true });
// Written beside and moved: a backup is there whole, or not at all.
writePart(file, packed, 0o600);

say({ step: "restoring" });
// What stands in the file, and not what was meant to be written.
const restored = await openDatabase({ from: new Blob([readFileSync(partOf(file))]) });
say({ step: "verifying" });
const faults = await faultsOf(restored);
const note = {
  bytes: packed.length,
  sha256: createHash("sha256").update(packed).digest("hex"),
  seal: (await readSeals(restored.db)).at(-1)?.no ?? 0,
  heads: await headsOf(restored),
  faults,
};
await restored.close();
movePart(file);
say({ packed: note });

async function faultsOf(database: Database): Promise<string[]> {
  const checks = await verify(database.db);
  const faults = checks.flatMap((c) => c.faults.map((f) => `${c.name}: ${f}`));
  if (seals.length === 0 || key === null) return faults;
  const outside = await faultsOfSeals(database.db, seals, key);
  return [...faults, ...outside.faults];
}

function headsOf({ db }: Database): Promise<BackupNote["heads"]> {
  return rows(
    db,
    sql`select c.code as company, h.seq::text as seq, h.hash from chain h
      join company c on c.id = h.company_id order by c.code`,
  );
}
