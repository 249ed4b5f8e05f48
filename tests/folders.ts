import { execFile } from "node:child_process";
import { mkdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { inject } from "vitest";
import { openDatabase } from "../src/server/db";

/** The test world in a data folder of its own. */
export async function worldInFolder(folder: string): Promise<string> {
  mkdirSync(folder, { recursive: true });
  const database = await openDatabase({
    folder,
    from: new Blob([readFileSync(inject("embedded"))]),
  });
  await database.close();
  return folder;
}

const tsx = path.resolve("node_modules/tsx/dist/cli.mjs");

/** The command for administrators; this process goes on meanwhile. */
export function admin(args: string[]): Promise<{ code: number; out: string }> {
  return new Promise((done) =>
    execFile(
      process.execPath,
      [tsx, "src/server/admin/main.ts", ...args],
      { encoding: "utf8", env: { ...process.env, DATABASE_URL: "" } },
      (error, stdout, stderr) =>
        done({ code: error ? Number(error.code) : 0, out: stdout + stderr }),
    ),
  );
}
