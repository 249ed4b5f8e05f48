import { execFile } from "node:child_process";
import { cpSync } from "node:fs";
import { inject } from "vitest";

/** The test world in a data folder of its own. */
export function worldInFolder(folder: string): string {
  cpSync(inject("folder"), folder, { recursive: true });
  return folder;
}

/** The command for administrators; this process goes on meanwhile. */
export function admin(args: string[]): Promise<{ code: number; out: string }> {
  return new Promise((done) =>
    execFile(
      process.execPath,
      ["scripts/fromSources.mjs", "src/server/admin/main.ts", ...args],
      { encoding: "utf8", env: { ...process.env, DATABASE_URL: "" } },
      (error, stdout, stderr) =>
        done({ code: error ? Number(error.code) : 0, out: stdout + stderr }),
    ),
  );
}
