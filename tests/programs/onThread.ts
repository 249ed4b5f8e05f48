import { parentPort, workerData } from "node:worker_threads";
import { sql } from "drizzle-orm";
import { openShared, type SharedDatabase } from "../../src/server/db";

/**
 * A thread that shares the embedded database of its process: it keeps one row, takes one back, is
 * told about a mistake, and ends in the middle of a transaction.
 */
const { db } = openShared((workerData as { database: SharedDatabase }).database);
await db.execute(sql`create table told (what text)`);
await db.transaction((tx) => tx.execute(sql`insert into told values ('kept')`));
await db
  .transaction(async (tx) => {
    await tx.execute(sql`insert into told values ('taken back')`);
    throw new Error("no");
  })
  .catch(() => {});
const mistake = await db.execute(sql`select * from nowhere`).catch((e: Error) => e.cause);
parentPort!.postMessage((mistake as { code?: string }).code);
void db.transaction(async (tx) => {
  await tx.execute(sql`insert into told values ('half')`);
  // Another one waits for its turn meanwhile.
  void db.transaction((next) => next.execute(sql`insert into told values ('late')`));
  setTimeout(() => process.exit(0), 50);
  await new Promise(() => {});
});
