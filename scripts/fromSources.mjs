// Runs a program written in TypeScript: node scripts/fromSources.mjs FILE [ARGUMENTS].
// It and all that it imports become one file first, which starts in a fraction of the time.
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, renameSync, writeFileSync } from "node:fs";
import path from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import { threadId } from "node:worker_threads";
import { buildSync } from "esbuild";

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), "..");
const folder = path.join(root, "node_modules", ".cache", "yellow-anchor");

/** Makes the program ready on this thread and runs it. */
export function runFromSources(file) {
  const [{ contents }] = buildSync({
    entryPoints: [path.resolve(root, file)],
    bundle: true,
    packages: "external",
    platform: "node",
    format: "esm",
    sourcemap: "inline",
    sourcesContent: false,
    outdir: folder,
    write: false,
    logLevel: "error",
  }).outputFiles;
  const made = path.join(folder, `${createHash("sha256").update(contents).digest("hex")}.mjs`);
  if (!existsSync(made)) {
    mkdirSync(folder, { recursive: true });
    // Others may make the same at this moment: it is there whole, or not at all.
    const part = `${made}.${process.pid}.${threadId}`;
    writeFileSync(part, contents);
    renameSync(part, made);
  }
  process.setSourceMapsEnabled(true);
  return import(pathToFileURL(made).href);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  process.argv.splice(1, 1);
  await runFromSources(process.argv[1]);
}
