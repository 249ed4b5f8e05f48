import { execFile, execFileSync, spawn } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import path from "node:path";
import { promisify } from "node:util";
import { gunzipSync } from "node:zlib";
import type { TestProject } from "vitest/node";
import { openDatabase } from "../src/server/db";
import type { RowTypes } from "./rowTypes";
import { buildWorld } from "./world";

declare module "vitest" {
  interface ProvidedContext {
    /**
     * A dump of the embedded database with the test world, or the address of the server's template.
     */
    embedded: string;
    /** A data folder with the same; empty where the tests run on a server. */
    folder: string;
    server: string | null;
    /** What the rows of each statement are said to be. */
    rowTypes: RowTypes;
  }
}

/**
 * Builds the small test world once per kind of database; each test file starts from a copy.
 * TEST_DATABASE says which kind: embedded (the default) or server, for which a PostgreSQL is
 * started on a free port.
 */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  // The compiler takes as long as the world: both at once, in a process each.
  const rowTypes = readRowTypes();
  rowTypes.catch(() => {});
  const end = await provideWorld(project);
  try {
    project.provide("rowTypes", await rowTypes);
  } catch (error) {
    // Nobody else would end the server, and the tests would not end either.
    await end();
    throw error;
  }
  return end;
}

async function readRowTypes(): Promise<RowTypes> {
  const { stdout } = await promisify(execFile)(
    process.execPath,
    ["scripts/fromSources.mjs", "tests/programs/readRowTypes.ts"],
    { maxBuffer: 64 * 1024 * 1024 },
  );
  return JSON.parse(stdout) as RowTypes;
}

async function provideWorld(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-test-"));
  if (process.env.TEST_DATABASE === "server") {
    const server = await startPostgres(folder);
    const url = `postgres://postgres@127.0.0.1:${server.port}`;
    server.psql("create database world");
    const close = async () => {
      await server.stop();
      rmSync(folder, { recursive: true, force: true });
    };
    try {
      const database = await openDatabase({ url: `${url}/world` });
      await buildWorld(database);
      await database.close();
    } catch (error) {
      // Nobody else would end the server, and the tests would not end either.
      await close();
      throw error;
    }
    project.provide("embedded", "");
    project.provide("folder", "");
    project.provide("server", url);
    return close;
  }
  const database = await openDatabase({});
  await buildWorld(database);
  const file = path.join(folder, "world.tar");
  const dump = await database.dump();
  // Unpacked once, and not at each start of it.
  writeFileSync(file, gunzipSync(await dump.arrayBuffer()));
  await database.close();
  const data = path.join(folder, "data");
  await (await openDatabase({ folder: data, from: dump })).close();
  project.provide("embedded", file);
  project.provide("folder", data);
  project.provide("server", null);
  return async () => rmSync(folder, { recursive: true, force: true });
}

/** Where Debian and others keep the server's programs. */
function postgresPrograms(): string {
  const places = existsSync("/usr/lib/postgresql")
    ? readdirSync("/usr/lib/postgresql")
        .sort((a, b) => Number(b) - Number(a))
        .map((v) => `/usr/lib/postgresql/${v}/bin`)
    : [];
  const found = [...places, "/usr/local/bin", "/usr/bin", "/opt/homebrew/bin"].find(
    (p) => existsSync(path.join(p, "initdb")) && existsSync(path.join(p, "postgres")),
  );
  if (!found)
    throw new Error(
      "No PostgreSQL server found. Install Debian's package postgresql, or run the tests on the embedded database alone.",
    );
  return found;
}

export async function startPostgres(
  folder: string,
): Promise<{ port: number; psql(statement: string): void; stop(): Promise<void> }> {
  const bin = postgresPrograms();
  const data = path.join(folder, "pg");
  mkdirSync(data, { recursive: true });
  // PostgreSQL refuses to run as root; Debian's package brings a user for it.
  const asRoot = process.getuid?.() === 0;
  if (asRoot) {
    execFileSync("chmod", ["755", folder]);
    execFileSync("chown", ["-R", "postgres", data]);
  }
  const run = (program: string, args: string[]): [string, string[]] =>
    asRoot
      ? ["runuser", ["-u", "postgres", "--", path.join(bin, program), ...args]]
      : [path.join(bin, program), args];
  execFileSync(
    ...run("initdb", [
      "-D",
      data,
      "-U",
      "postgres",
      "-A",
      "trust",
      "-E",
      "UTF8",
      "--locale=C",
      "--no-sync",
    ]),
    { stdio: "ignore" },
  );
  const port = await freePort();
  const server = spawn(
    ...run("postgres", [
      "-D",
      data,
      "-p",
      String(port),
      "-c",
      "listen_addresses=127.0.0.1",
      "-c",
      `unix_socket_directories=${data}`,
      "-c",
      "fsync=off",
      "-c",
      "max_connections=120",
    ]),
    { stdio: "ignore" },
  );
  const psql = (statement: string) =>
    void execFileSync(
      "psql",
      ["-q", "-h", "127.0.0.1", "-p", String(port), "-U", "postgres", "-c", statement],
      { stdio: ["ignore", "ignore", "pipe"] },
    );
  for (let i = 0; ; i++) {
    try {
      psql("select 1");
      break;
    } catch (error) {
      if (i > 100) throw error;
      await new Promise((r) => setTimeout(r, 100));
    }
  }
  return {
    port,
    psql,
    stop: () =>
      new Promise((resolve) => {
        server.once("exit", () => resolve());
        try {
          execFileSync(...run("pg_ctl", ["-D", data, "-m", "immediate", "stop"]), {
            stdio: "ignore",
          });
        } catch {
          server.kill("SIGKILL");
        }
      }),
  };
}

export const freePort = (): Promise<number> =>
  new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once("error", reject);
    probe.listen(0, "127.0.0.1", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
