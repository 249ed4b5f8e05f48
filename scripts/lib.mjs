import { execFileSync, spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), "..");
/** What runs a program of the sources. */
export const fromSources = path.join(root, "scripts", "fromSources.mjs");
const next = path.join(root, "node_modules", "next", "dist", "bin", "next");
const server = path.join(root, "scripts", "server.mjs");

/** Options of the form --name value, and --flag. */
export function options(argv, flags = []) {
  const found = { _: [] };
  for (let i = 0; i < argv.length; i++) {
    const name = argv[i].startsWith("--") ? argv[i].slice(2) : null;
    if (name === null) found._.push(argv[i]);
    else if (flags.includes(name)) found[name] = true;
    else found[name] = argv[++i];
  }
  return found;
}

const stamp = (name) => path.join(root, "node_modules", `.yellow-anchor-${name}`);

const lockHash = () =>
  createHash("sha256")
    .update(readFileSync(path.join(root, "package-lock.json")))
    .digest("hex");

/** Installs exactly what package-lock.json says, where that has not been done; the lock never changes. */
export function install() {
  if (existsSync(stamp("installed")) && readFileSync(stamp("installed"), "utf8") === lockHash())
    return;
  console.log("Installing packages …");
  const result = spawnSync("npm", ["ci", "--no-audit", "--no-fund"], {
    cwd: root,
    stdio: ["ignore", "ignore", "inherit"],
    shell: process.platform === "win32",
  });
  if (result.status !== 0)
    fail("Packages could not be installed. Is the package registry reachable?");
  writeFileSync(stamp("installed"), lockHash());
}

/** Builds the application, where its sources have changed since the last time. */
export function build() {
  const hash = createHash("sha256");
  const visit = (place) => {
    for (const entry of readdirSync(path.join(root, place), { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const file = path.join(place, entry.name);
      if (entry.isDirectory()) visit(file);
      else if (!/\.test\.tsx?$/.test(file))
        hash.update(file).update(readFileSync(path.join(root, file)));
    }
  };
  for (const place of ["src", "public"]) visit(place);
  for (const file of ["package-lock.json", "next.config.ts", "postcss.config.mjs", "tsconfig.json"])
    hash.update(readFileSync(path.join(root, file)));
  const wanted = hash.digest("hex");
  const mark = path.join(root, ".next", "built-from");
  if (existsSync(mark) && readFileSync(mark, "utf8") === wanted) return;
  console.log("Building …");
  const result = spawnSync(process.execPath, [next, "build"], {
    cwd: root,
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1" },
    encoding: "utf8",
  });
  if (result.status !== 0) {
    process.stderr.write(`${result.stdout}\n${result.stderr}\n`);
    fail("The application could not be built.");
  }
  writeFileSync(mark, wanted);
}

/** Starts the application and waits until it answers. Its end ends this process. */
export async function serve({ port, data, url, host = "127.0.0.1" }) {
  const env = {
    ...process.env,
    NEXT_TELEMETRY_DISABLED: "1",
    NODE_ENV: "production",
    ...(data ? { YELLOW_ANCHOR_DATA: data } : {}),
    ...(url ? { DATABASE_URL: url } : {}),
  };
  if (!url) delete env.DATABASE_URL;
  const child = spawn(process.execPath, [server, "-H", host, "-p", String(port)], {
    cwd: root,
    env,
    stdio: ["ignore", "ignore", "inherit"],
  });
  let ended = false;
  child.once("exit", (code) => {
    ended = true;
    process.exit(code ?? 0);
  });
  for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => child.kill(signal));
  for (let i = 0; i < 300 && !ended; i++) {
    try {
      if ((await fetch(`http://127.0.0.1:${port}/api/health`)).ok) return child;
    } catch {
      // Not yet.
    }
    await new Promise((r) => setTimeout(r, 200));
  }
  if (!ended) fail("The application did not answer within a minute.");
  return child;
}

export function fail(message) {
  console.error(`\n${message}\n`);
  process.exit(1);
}
export { execFileSync, existsSync, mkdirSync, path, spawnSync, statSync };
