import { Worker } from "node:worker_threads";
import type { Database } from "../db";
import { log } from "../log";
import { isBuilt, threadFromSources } from "../threads";
import { forgetWorkers, hasJobs } from "./work";
import type { WorkingTask } from "./jobThread";

const EVERY = 1000;

/** Looks for jobs now and then, and lets a thread of its own work on them until none is left. */
export async function watchJobs(database: Database): Promise<void> {
  if (database.kind === "embedded") await forgetWorkers(database);
  let busy = false;
  const look = async (): Promise<void> => {
    if (busy) return;
    busy = true;
    try {
      if (await hasJobs(database)) await workOnThread(database);
    } catch (error) {
      log.error({ err: error }, "jobs");
    } finally {
      busy = false;
    }
  };
  setInterval(() => void look(), EVERY).unref();
}

/** Resolves when the thread has ended, whatever came of its jobs: they say that themselves. */
export function workOnThread(database: Database): Promise<void> {
  const { data, transfer, over } = database.share();
  const worker = startThread({ database: data }, transfer);
  return new Promise((done) => {
    worker.once("error", (error) => log.error({ err: error }, "jobs"));
    worker.once("exit", () => {
      over();
      done();
    });
  });
}

const startThread = (
  workerData: WorkingTask,
  transferList: ReturnType<Database["share"]>["transfer"],
): Worker =>
  isBuilt()
    ? new Worker(new URL("./jobThread.ts", import.meta.url), { workerData, transferList })
    : threadFromSources("jobs/jobThread.ts", { workerData, transferList });
