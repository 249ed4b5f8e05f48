import { parentPort } from "node:worker_threads";
import { encodeJson } from "@/core/shared";
import { readers, type ReaderKind } from "./readers";

/** What the thread is asked, one file at a time. */
export interface ReadingTask {
  kind: ReaderKind;
  name: string;
  bytes: Uint8Array;
}

parentPort!.on("message", ({ kind, name, bytes }: ReadingTask) => {
  void readers[kind](name, bytes).then((result) => {
    // As bytes that are handed over: nothing is copied on the thread that answers people.
    const said = new TextEncoder().encode(encodeJson(result));
    parentPort!.postMessage(said, [said.buffer]);
  });
});
