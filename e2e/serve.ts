import { spawn, spawnSync, type ChildProcess } from "node:child_process";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import type { TestProject } from "vitest/node";
import { openDatabase } from "../src/server/db";
import { freePort, startPostgres } from "../tests/databases";
import { buildWorld } from "../tests/world";

declare module "vitest" {
  interface ProvidedContext {
    /** Address of the demo, and of an installation that nobody has used yet. */
    demo: string;
    empty: string;
    /** Two processes of the application on one PostgreSQL, which holds the small test world. */
    pair: [string, string];
  }
}

/**
 * Serves a demo of its own, seeded here or copied from where SEEDED_DEMO says; beside it, for the
 * screens, an empty installation, and for what people do two processes on one PostgreSQL. The
 * application is built beforehand.
 */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-e2e-"));
  const demo = path.join(folder, "demo");
  if (process.env.SEEDED_DEMO) cpSync(process.env.SEEDED_DEMO, demo, { recursive: true });
  else seed(demo);
  const servers: ChildProcess[] = [];
  const serve = async (data: string, url = ""): Promise<string> => {
    const port = await freePort();
    const server = spawn(
      process.execPath,
      ["scripts/server.mjs", "-H", "127.0.0.1", "-p", String(port)],
      {
        stdio: ["ignore", "ignore", "inherit"],
        env: {
          ...process.env,
          NODE_ENV: "production",
          NEXT_TELEMETRY_DISABLED: "1",
          YELLOW_ANCHOR_DATA: data,
          DATABASE_URL: url,
        },
      },
    );
    servers.push(server);
    for (let i = 0; i < 150; i++) {
      const ready = await fetch(`http://127.0.0.1:${port}/api/health`).then(
        (r) => r.ok,
        () => false,
      );
      if (ready) return `http://127.0.0.1:${port}`;
      await new Promise((r) => setTimeout(r, 200));
    }
    throw new Error("the application does not answer");
  };
  project.provide("demo", await serve(demo));
  const isOf = (name: string) => project.name === name;
  project.provide("empty", isOf("screens") ? await serve(path.join(folder, "empty")) : "");
  const postgres = isOf("e2e") ? await startPostgres(folder) : null;
  if (postgres) {
    const url = `postgres://postgres@127.0.0.1:${postgres.port}/postgres`;
    const database = await openDatabase({ url });
    await buildWorld(database);
    await database.close();
    const both = ["one", "two"].map((name) => serve(path.join(folder, name), url));
    project.provide("pair", (await Promise.all(both)) as [string, string]);
  }
  return async () => {
    await Promise.all(
      servers.map(
        (s) =>
          new Promise<void>((resolve) => {
            s.once("exit", () => resolve());
            s.kill("SIGTERM");
            setTimeout(() => s.kill("SIGKILL"), 4000);
          }),
      ),
    );
    await postgres?.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}

function seed(folder: string): void {
  const seeded = spawnSync(
    process.execPath,
    ["scripts/fromSources.mjs", "src/demo/main.ts", folder],
    {
      stdio: ["ignore", "ignore", "inherit"],
    },
  );
  if (seeded.status !== 0) throw new Error("the demo could not be seeded");
}
