import { threadId, workerData } from "node:worker_threads";
import { openShared, type SharedDatabase } from "../db";
import { workOnNext } from "./work";

/** What the thread is started with: it works on jobs until none is left, and ends. */
export interface WorkingTask {
  database: SharedDatabase;
}

const { database: shared } = workerData as WorkingTask;
const database = openShared(shared);
// No other thread of any process may be taken for this one.
const worker = `${process.pid}.${threadId}.${Date.now()}`;
while (await workOnNext(database, worker));
await database.close();
