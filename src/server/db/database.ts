import { createHash } from "node:crypto";
import { mkdirSync } from "node:fs";
import path from "node:path";
import { MessageChannel, type MessagePort } from "node:worker_threads";
import type { PGlite } from "@electric-sql/pglite";
import { sql, type SQL } from "drizzle-orm";
import { drizzle as drizzlePg } from "drizzle-orm/node-postgres";
import type { PgDatabase, PgQueryResultHKT } from "drizzle-orm/pg-core";
import { drizzle as drizzlePglite } from "drizzle-orm/pglite";
import pg from "pg";
import * as schema from "./schema";
import { EmbeddedClient } from "./embedded/client";
import { isThere, openEngine, type Engine, type EngineOptions } from "./embedded/engine";
import { openEngineOnThread } from "./embedded/engineOnThread";
import { serveClient, SharedClient } from "./embedded/sharedClient";
import { lockFolder, type FolderLock } from "./folderLock";
import { migrateDatabase } from "./migrateDatabase";

/** A database or an open transaction in it: what use cases and queries are given. */
export type Db = PgDatabase<PgQueryResultHKT, typeof schema>;

export interface Database {
  db: Db;
  kind: "embedded" | "server";
  /** A copy of the whole embedded database; a server is backed up with its own tools. */
  dump(): Promise<Blob>;
  /**
   * Copies the files of the embedded database while it runs. Whoever asks it something meanwhile
   * waits; the copy opens like books whose machine stopped at that moment.
   */
  copyTo(folder: string): Promise<void>;
  /**
   * What another thread of this process opens the same database with (`openShared`), what has to be
   * handed over with it, and what to call when that thread has ended.
   */
  share(): { data: SharedDatabase; transfer: MessagePort[]; over: () => void };
  close(): Promise<void>;
}
/** The database of this process, for another thread of it. */
export type SharedDatabase = { url: string } | { port: MessagePort };

export interface OpenOptions {
  /** PostgreSQL server, used instead of a data folder. */
  url?: string;
  /** Data folder of the embedded database; in memory when neither is given. */
  folder?: string;
  /** A dump to start an embedded database from. */
  from?: Blob;
  /** The embedded database answers on the thread that opens it, which is one of its own already. */
  here?: boolean;
  /** What flushes its files to the disk, where it answers here. */
  files?: EngineOptions["files"];
  /** Told each statement that is sent; tests count them. */
  onQuery?: (query: string) => void;
}

// One meaning per type in both drivers: 64-bit integers are bigint.
pg.types.setTypeParser(pg.types.builtins.INT8, (text) => BigInt(text));

const DRIZZLE = { schema, casing: "snake_case" as const };

function openPool(connectionString: string, max: number): pg.Pool {
  const pool = new pg.Pool({ connectionString, max });
  // A connection that breaks while idle is replaced by the pool; without a listener it would end
  // the process.
  pool.on("error", () => {});
  return pool;
}

/** Opens the database that another thread of this process shares; its schema is up to date. */
export function openShared(shared: SharedDatabase): Database {
  const elsewhere = () => Promise.reject(new Error("This is done where the database was opened."));
  const rest = {
    dump: elsewhere,
    copyTo: elsewhere,
    share: () => {
      throw new Error("This is done where the database was opened.");
    },
  };
  if ("url" in shared) {
    const pool = openPool(shared.url, 2);
    const db = drizzlePg(pool, DRIZZLE) as unknown as Db;
    return { db, kind: "server", ...rest, close: () => pool.end() };
  }
  const client = new SharedClient(shared.port);
  const db = drizzlePglite(client as unknown as PGlite, DRIZZLE) as unknown as Db;
  return { db, kind: "embedded", ...rest, close: async () => client.close() };
}

function shareEmbedded(client: EmbeddedClient): ReturnType<Database["share"]> {
  const { port1, port2 } = new MessageChannel();
  return { data: { port: port2 }, transfer: [port2], over: serveClient(client, port1) };
}

/**
 * Opens the database, locks its folder against a second process, and brings its schema up to date.
 */
export async function openDatabase(options: OpenOptions): Promise<Database> {
  const logger = options.onQuery ? { logQuery: options.onQuery } : undefined;
  const drizzleOptions = { ...DRIZZLE, ...(logger ? { logger } : {}) };
  if (options.url) {
    const pool = openPool(options.url, 10);
    const db = drizzlePg(pool, drizzleOptions) as unknown as Db;
    await migrateDatabase(db, "server");
    return {
      db,
      kind: "server",
      dump: () => Promise.reject(new Error("Back a PostgreSQL server up with pg_dump.")),
      copyTo: () => Promise.reject(new Error("Back a PostgreSQL server up with pg_dump.")),
      share: () => ({ data: { url: options.url! }, transfer: [], over: () => {} }),
      close: () => pool.end(),
    };
  }
  let lock: FolderLock | undefined;
  let engine: Engine | undefined;
  if (options.folder) {
    mkdirSync(options.folder, { recursive: true });
    lock = lockFolder(options.folder);
  }
  try {
    const place = options.folder ? path.join(options.folder, "db") : undefined;
    const existed = place !== undefined && isThere(place);
    const opened = await openEmbedded(options, place);
    engine = opened;
    const client = new EmbeddedClient(opened);
    const dump = async () => new Blob([new Uint8Array(await client.alone(opened.dump))]);
    const db = drizzlePglite(client as unknown as PGlite, drizzleOptions) as unknown as Db;
    await migrateDatabase(
      db,
      "embedded",
      existed && options.folder ? { folder: options.folder, dump } : undefined,
    );
    return {
      db,
      kind: "embedded",
      dump,
      copyTo: (folder) => client.alone(() => opened.copyTo(folder)),
      share: () => shareEmbedded(client),
      close: async () => {
        await client.alone(opened.close);
        lock?.release();
      },
    };
  } catch (error) {
    await engine?.close().catch(() => {});
    lock?.release();
    throw error;
  }
}

/** Books in a folder have a thread of their own; those in memory answer where they are opened. */
async function openEmbedded(options: OpenOptions, place: string | undefined): Promise<Engine> {
  const { from, files, here = files !== undefined } = options;
  if (!place || here)
    return openEngine({
      ...(place ? { place } : {}),
      ...(from ? { from } : {}),
      ...(files ? { files } : {}),
    });
  const bytes = from && new Uint8Array(await from.arrayBuffer());
  return openEngineOnThread({ place, ...(bytes ? { from: bytes } : {}) });
}

type RowWatch = (asked: Error, rows: readonly Record<string, unknown>[]) => void;
let rowWatch: RowWatch | undefined;

/** Tells of the rows of each statement, with the place that asked: tests hold them to their types. */
export const watchRows = (watch: RowWatch): void => {
  rowWatch = watch;
};

/**
 * Runs a statement and gives its rows. What they are is said by the caller; the compiler believes
 * it, and the tests compare each answer with it.
 */
export async function rows<T>(db: Db, query: SQL): Promise<T[]> {
  const asked = rowWatch && new Error("rows");
  const result = (await db.execute(query)) as unknown as { rows: T[] };
  rowWatch?.(asked!, result.rows as Record<string, unknown>[]);
  return result.rows;
}

/** Text that stands for itself in a LIKE pattern. */
export const likeText = (text: string): string => text.replace(/[%_\\]/g, "\\$&");

/**
 * Values as the text of a PostgreSQL array, for `${arrayOf(values)}::bigint[]`: one parameter for
 * any number of rows,
 * read alike by both drivers.
 */
export function arrayOf(values: readonly (string | number | bigint | boolean | null)[]): SQL {
  const parts = values.map((v) =>
    v === null ? "NULL" : typeof v === "string" ? `"${v.replace(/[\\"]/g, "\\$&")}"` : String(v),
  );
  return sql`${`{${parts.join(",")}}`}::text`;
}

export const sha256 = (text: string): string => createHash("sha256").update(text).digest("hex");
