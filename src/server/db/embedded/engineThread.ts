import { parentPort, workerData } from "node:worker_threads";
import { openEngine, type Answer, type Engine } from "./engine";
import { failureOf, type Failure } from "./failure";

/** What the thread is started with. */
export interface EngineTask {
  place: string;
  from?: Uint8Array;
}
export type Request = { no: number } & (
  | { ask: "query"; statement: string; parameters: unknown[] }
  | { ask: "copyTo"; folder: string }
  | { ask: "dump" | "close" }
);
export type Reply =
  | { no: number; answer: Answer | Uint8Array | undefined }
  | { no: number; failure: Failure }
  | { opened: true }
  | { notOpened: Failure };

const { place, from } = workerData as EngineTask;
const port = parentPort!;
const say = (reply: Reply): void => port.postMessage(reply);

try {
  const engine = await openEngine({
    place,
    ...(from ? { from: new Blob([new Uint8Array(from)]) } : {}),
  });
  port.on("message", (request: Request) => void answer(engine, request));
  say({ opened: true });
} catch (error) {
  say({ notOpened: failureOf(error) });
}

async function answer(engine: Engine, request: Request): Promise<void> {
  const { no } = request;
  try {
    say({ no, answer: await perform(engine, request) });
  } catch (error) {
    say({ no, failure: failureOf(error) });
  }
  if (request.ask === "close") port.close();
}

function perform(engine: Engine, request: Request): Promise<Answer | Uint8Array | undefined> {
  switch (request.ask) {
    case "query":
      return engine.query(request.statement, request.parameters);
    case "copyTo":
      return engine.copyTo(request.folder).then(() => undefined);
    case "dump":
      return engine.dump();
    case "close":
      return engine.close().then(() => undefined);
  }
}
