import { parentPort, workerData } from "node:worker_threads";
import { readers, type ReaderKind } from "./readers";

/** What the thread is started with; it reads one file and ends. */
export interface ReadingTask {
  kind: ReaderKind;
  name: string;
  bytes: Uint8Array;
}

const { kind, name, bytes } = workerData as ReadingTask;
const result = await readers[kind](name, bytes);
// As bytes that are handed over: nothing is copied on the thread that answers people.
const said = new TextEncoder().encode(JSON.stringify(result));
parentPort!.postMessage(said, [said.buffer]);
