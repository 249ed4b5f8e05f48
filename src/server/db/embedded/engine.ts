import { cpSync, existsSync } from "node:fs";
import path from "node:path";
import { PGlite, types } from "@electric-sql/pglite";
import { pg_trgm } from "@electric-sql/pglite/contrib/pg_trgm";
import { DurableFiles } from "./durableFiles";
import { flushTree } from "../../disk";

/** What a statement gave: names of columns, and the values row by row. */
export interface Answer {
  columns: string[];
  rows: unknown[][];
}

/**
 * The embedded database, wherever it runs. Statements are answered one after the other, in the
 * order in which they were given; who may speak when is the client's matter.
 */
export interface Engine {
  query(statement: string, parameters: unknown[]): Promise<Answer>;
  /** All files in one packed archive. */
  dump(): Promise<Uint8Array>;
  /** Copies the files as they are in one moment into the folder, under the name db. */
  copyTo(folder: string): Promise<void>;
  close(): Promise<void>;
}

export interface EngineOptions {
  /** Where its files lie; in memory without. */
  place?: string;
  /** A dump to start from. */
  from?: Blob;
  /** What flushes the files of a place to the disk; tests put a disk that fails in its place. */
  files?: (place: string) => DurableFiles;
}

/** Whether a database lies in the place already. */
export const isThere = (place: string): boolean => existsSync(path.join(place, "PG_VERSION"));

const asText = (text: string): string => text;
// One meaning per type in both kinds of database: 64-bit integers are bigint, times stay text.
const PARSERS = {
  [types.INT8]: (text: string) => BigInt(text),
  [types.TIMESTAMP]: asText,
  [types.TIMESTAMPTZ]: asText,
  [types.INTERVAL]: asText,
  [types.DATE]: asText,
  // Lists of numeric, timestamp, timestamptz, interval and date.
  1231: asText,
  1115: asText,
  1185: asText,
  1187: asText,
  1182: asText,
};

// As it comes it runs without flushing at all (-F). Its fdatasync does nothing; its fsync is ours.
const DURABLE = [
  ...PGlite.defaultStartParams.filter((p) => p !== "-F"),
  ...["-c", "fsync=on", "-c", "wal_sync_method=fsync"],
];

/** Opens the embedded database on the thread that calls. */
export async function openEngine(options: EngineOptions): Promise<Engine> {
  const { place, from, files = (at) => new DurableFiles(at) } = options;
  const fresh = place !== undefined && !isThere(place);
  const pglite = await PGlite.create({
    ...(place ? { fs: files(place), startParams: DURABLE } : {}),
    ...(from ? { loadDataDir: from } : {}),
    extensions: { pg_trgm },
  });
  // What a new one begins with was written by a helper that flushes nothing.
  if (fresh) flushTree(place);
  return {
    async query(statement, parameters) {
      const result = await pglite.query<unknown[]>(statement, parameters, {
        rowMode: "array",
        parsers: PARSERS,
      });
      return { columns: result.fields.map((f) => f.name), rows: result.rows };
    },
    dump: async () => new Uint8Array(await (await pglite.dumpDataDir("gzip")).arrayBuffer()),
    async copyTo(folder) {
      if (!place) throw new Error("Books in memory have no files.");
      // Most of what was written is in its place then, and the copy starts at once.
      await pglite.exec("CHECKPOINT");
      // On this thread nothing else could be done meanwhile, and at once it takes half the time.
      await pglite.runExclusive(async () =>
        cpSync(place, path.join(folder, "db"), { recursive: true }),
      );
    },
    close: () => pglite.close(),
  };
}
