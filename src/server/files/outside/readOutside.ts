import { availableParallelism } from "node:os";
import { Worker } from "node:worker_threads";
import { decodeJson, fail, type Result } from "@/core/shared";
import { log } from "../../log";
import { isBuilt, threadFromSources } from "../../threads";
import { MAX_FILE } from "../readTable";
import type { ReadBy, ReaderKind } from "./readers";
import type { ReadingTask } from "./readerThread";

/** What reading a file may take; the memory is twenty times the largest file. */
export interface ReadingLimits {
  seconds: number;
  megabytes: number;
  /** Files that may wait for their turn. */
  waiting: number;
}
const LIMITS: ReadingLimits = {
  seconds: 30,
  megabytes: (20 * MAX_FILE) / 1_048_576,
  waiting: 16,
};
/** Files that are read at once; the thread that answers people keeps a core of its own. */
const AT_ONCE = Math.max(1, availableParallelism() - 1);

const waiting: (() => void)[] = [];
let running = 0;

/**
 * Reads material from outside on a thread of its own, with limits of time and memory: whatever
 * stands in it, the thread that answers people goes on, and the process lives. Call it after the
 * right to load was asked for.
 * Errors: INVALID with a sentence, also where a limit was met or too many files wait.
 */
export async function readOutside<K extends ReaderKind>(
  kind: K,
  name: string,
  bytes: Uint8Array,
  limits = LIMITS,
): Promise<Result<ReadBy<K>>> {
  const said = await readOutsideJson(kind, name, bytes, limits);
  const text = new TextDecoder().decode(said);
  // Most of what is read holds no amounts: it need not be looked through for them.
  return text.includes('{"$n":')
    ? decodeJson<Result<ReadBy<K>>>(text)
    : (JSON.parse(text) as Result<ReadBy<K>>);
}

/** The same, as the JSON of the result in UTF-8: to be passed on without being built up here. */
export async function readOutsideJson(
  kind: ReaderKind,
  name: string,
  bytes: Uint8Array,
  limits = LIMITS,
): Promise<Uint8Array> {
  if (bytes.length > MAX_FILE) return refused(`The file is larger than ${MAX_FILE / 1_048_576} MB`);
  if (running >= AT_ONCE) {
    if (waiting.length >= limits.waiting)
      return refused("Many files are being read at the moment. Try again in a minute");
    // Whoever is done hands its place on: nobody else slips in between.
    await new Promise<void>((go) => waiting.push(go));
  } else running++;
  try {
    return await onThread({ kind, name, bytes }, limits);
  } finally {
    const next = waiting.shift();
    if (next) next();
    else running--;
  }
}

const refused = (what: string): Uint8Array =>
  new TextEncoder().encode(JSON.stringify(fail({ code: "INVALID", what })));

/** A thread that has read something small and waits for the next; at most one for each place. */
const idle: { worker: Worker; megabytes: number }[] = [];
/** Bytes up to which a thread is kept afterwards; a larger file ends it, and its memory with it. */
const SMALL = 262_144;
const IDLE_MS = 30_000;

function onThread(task: ReadingTask, limits: ReadingLimits): Promise<Uint8Array> {
  return new Promise((done) => {
    const at = idle.findIndex((i) => i.megabytes === limits.megabytes);
    const worker = at < 0 ? startThread(limits) : idle.splice(at, 1)[0]!.worker;
    worker.removeAllListeners();
    worker.ref();
    const end = (said: Uint8Array, keep = false) => {
      clearTimeout(timer);
      worker.removeAllListeners();
      if (keep) keepIdle(worker, limits.megabytes);
      else void worker.terminate();
      done(said);
    };
    const timer = setTimeout(
      () => end(refused(`Reading the file took longer than ${limits.seconds} seconds. Split it`)),
      limits.seconds * 1000,
    );
    worker.once("message", (said: Uint8Array) => end(said, task.bytes.length <= SMALL));
    worker.once("error", (error: NodeJS.ErrnoException) => {
      const full = error.code === "ERR_WORKER_OUT_OF_MEMORY";
      if (!full) log.error({ err: error }, "reading thread");
      end(
        refused(
          full
            ? "Reading the file needs more memory than it may take. Split it"
            : "The file cannot be read",
        ),
      );
    });
    worker.once("exit", () => end(refused("The file cannot be read")));
    // The bytes are handed over, so a copy of them goes: callers keep the file.
    const bytes = new Uint8Array(task.bytes);
    worker.postMessage({ ...task, bytes } satisfies ReadingTask, [bytes.buffer]);
  });
}

/** Keeps a thread for the next file, for a while, without keeping the process alive for it. */
function keepIdle(worker: Worker, megabytes: number): void {
  const entry = { worker, megabytes };
  const drop = () => {
    const at = idle.indexOf(entry);
    if (at >= 0) idle.splice(at, 1);
  };
  idle.push(entry);
  worker.once("exit", drop);
  worker.once("error", drop);
  worker.unref();
  setTimeout(() => {
    if (!idle.includes(entry)) return;
    drop();
    void worker.terminate();
  }, IDLE_MS).unref();
}

function startThread({ megabytes }: ReadingLimits): Worker {
  const resourceLimits = { maxOldGenerationSizeMb: megabytes, maxYoungGenerationSizeMb: 32 };
  return isBuilt()
    ? new Worker(new URL("./readerThread.ts", import.meta.url), { resourceLimits })
    : threadFromSources("files/outside/readerThread.ts", { resourceLimits });
}
