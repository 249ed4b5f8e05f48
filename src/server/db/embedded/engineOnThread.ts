import { Worker } from "node:worker_threads";
import { isBuilt, threadFromSources } from "../../threads";
import type { Answer, Engine } from "./engine";
import type { EngineTask, Reply, Request } from "./engineThread";
import { errorOf } from "./failure";

type Asked = Request extends infer R ? (R extends Request ? Omit<R, "no"> : never) : never;

interface Waiting {
  done(answer: never): void;
  failed(error: Error): void;
}

/**
 * Opens the embedded database on a thread of its own: while it works, pages are drawn and files are
 * read; while those are busy, it works. If the thread ends, what is asked of it fails with a
 * sentence.
 */
export function openEngineOnThread(task: EngineTask): Promise<Engine> {
  const worker = startThread(task);
  const waiting = new Map<number, Waiting>();
  let ended: Error | null = null;
  let last = 0;

  const ask = <T>(asked: Asked): Promise<T> =>
    new Promise((done, failed) => {
      if (ended) return failed(ended);
      const no = ++last;
      waiting.set(no, { done, failed });
      worker.postMessage({ ...asked, no });
    });
  const endWith = (error: Error): void => {
    ended ??= error;
    for (const { failed } of waiting.values()) failed(ended);
    waiting.clear();
  };
  const engine: Engine = {
    query: (statement, parameters) => ask<Answer>({ ask: "query", statement, parameters }),
    dump: () => ask({ ask: "dump" }),
    copyTo: (folder) => ask({ ask: "copyTo", folder }),
    close: () => ask({ ask: "close" }),
  };

  return new Promise((opened, notOpened) => {
    worker.on("message", (reply: Reply) => {
      if ("opened" in reply) return opened(engine);
      if ("notOpened" in reply) return notOpened(errorOf(reply.notOpened));
      const asked = waiting.get(reply.no);
      waiting.delete(reply.no);
      if ("failure" in reply) asked?.failed(errorOf(reply.failure));
      else asked?.done(reply.answer as never);
    });
    worker.once("error", (error) => {
      notOpened(error);
      endWith(error);
    });
    worker.once("exit", () => endWith(new Error("The database has stopped. Start it again.")));
  });
}

const startThread = (workerData: EngineTask): Worker =>
  isBuilt()
    ? new Worker(new URL("./engineThread.ts", import.meta.url), { workerData })
    : threadFromSources("db/embedded/engineThread.ts", { workerData });
