// npm test: unit, server (embedded and PostgreSQL) and browser tests, with what they need installed
// first. One part: node scripts/test.mjs unit
import { spawn } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { availableParallelism, tmpdir } from "node:os";
import { build, existsSync, fail, fromSources, install, path, root, spawnSync } from "./lib.mjs";

const asked = process.argv[2];
const parts = [
  { name: "unit", project: "unit", env: {} },
  { name: "unit", project: "components", env: {}, title: "components" },
  {
    name: "server",
    project: "server",
    env: { TEST_DATABASE: "embedded" },
    title: "server, embedded",
  },
  {
    name: "server",
    project: "server",
    env: { TEST_DATABASE: "server" },
    title: "server, PostgreSQL",
    needs: ["postgresql"],
  },
  {
    name: "e2e",
    project: "e2e",
    env: {},
    title: "browser",
    needs: ["chromium", "postgresql"],
    // Beside it, for a browser and its server together keep one core busy.
    beside: {
      project: "screens",
      // Each on a demo of its own, one after the other.
      also: ["collecting"],
      env: {},
      title: "browser, every screen, and collecting",
    },
  },
].filter((p) => !asked || p.name === asked);
if (parts.length === 0) fail("node scripts/test.mjs [unit | server | e2e]");

const NEEDS = {
  postgresql: {
    packages: ["postgresql"],
    there: () => existsSync("/usr/lib/postgresql") || existsSync("/usr/local/bin/postgres"),
  },
  chromium: {
    packages: ["chromium", "chromium-driver"],
    there: () => existsSync("/usr/bin/chromium") && existsSync("/usr/bin/chromedriver"),
  },
};

install();
for (const need of new Set(parts.flatMap((p) => p.needs ?? []))) {
  const { packages, there } = NEEDS[need];
  if (there()) continue;
  const may = process.getuid?.() === 0 && existsSync("/usr/bin/apt-get");
  if (may) {
    console.log(`Installing ${packages.join(" and ")} …`);
    spawnSync("apt-get", ["update"], { stdio: "ignore" });
    spawnSync("apt-get", ["install", "-y", "--no-install-recommends", ...packages], {
      stdio: "ignore",
      env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" },
    });
  }
  if (!there())
    fail(
      `The tests need Debian's ${packages.join(" and ")}, which ${may ? "could not be installed" : "this account may not install"}. Install them, or run a part that does without: npm run test:unit`,
    );
}

let passed = 0;
let failed = 0;
/** What failed, said again at the end: above it stand thousands of lines. */
const faults = [];
/** What is looked at before any test runs, all at once: every core works. */
const CHECKS = [
  ["format", "node_modules/prettier/bin/prettier.cjs", "--check", "--log-level", "warn", "."],
  ["types", "node_modules/typescript/bin/tsc", "--noEmit"],
  ["lint", "node_modules/eslint/bin/eslint.js", ".", "--max-warnings", "0"],
  [
    "layers",
    "node_modules/dependency-cruiser/bin/dependency-cruise.mjs",
    "src",
    "--config",
    ".dependency-cruiser.cjs",
  ],
];
if (!asked)
  for (const { title, status, output } of await Promise.all(CHECKS.map(check))) {
    if (status === 0) {
      passed++;
      // The build need not do it again.
      if (title === "types") process.env.TYPES_CHECKED = "1";
    } else {
      failed++;
      faults.push(title);
      console.log(output);
    }
    console.log(`${title}: ${status === 0 ? "clean" : "FAILED"}`);
  }
const scratch = mkdtempSync(path.join(tmpdir(), "yellow-anchor-tests-"));
const browsers = parts.some((p) => p.name === "e2e");
// Seeding keeps one core busy for minutes: it begins while the others are tested.
const seeded = browsers ? seedDemo(path.join(scratch, "demo")) : null;
if (browsers) build();
for (const part of parts) {
  if (part.name === "e2e") process.env.SEEDED_DEMO = await seeded;
  const both = [part, ...(part.beside ? [part.beside] : [])];
  for (const [i, { status, report }] of (await Promise.all(both.map(run))).entries())
    count(both[i], status, report);
}
rmSync(scratch, { recursive: true, force: true });
console.log(`\n${[`${passed} passed, ${failed} failed`, ...faults].join("\n  ")}`);
process.exit(failed === 0 ? 0 : 1);

/** Runs the tests of a project; of one that runs beside another, its output comes at its end. */
function run(part, place) {
  const report = path.join(scratch, `${part.project}.json`);
  rmSync(report, { force: true });
  const heading = `\n${part.title ?? part.name}`;
  if (place === 0) console.log(heading);
  const alone = part.project === "e2e" || part.project === "screens";
  const child = spawn(
    process.execPath,
    [
      "node_modules/vitest/vitest.mjs",
      "run",
      ...[part.project, ...(part.also ?? [])].flatMap((name) => ["--project", name]),
      // Every core works; left alone, one of two would stand idle. One browser at a time, though.
      `--maxWorkers=${alone ? 1 : availableParallelism()}`,
      "--reporter=default",
      "--reporter=json",
      `--outputFile.json=${report}`,
    ],
    {
      cwd: root,
      stdio: place === 0 ? "inherit" : ["ignore", "pipe", "pipe"],
      env: { ...process.env, ...part.env },
    },
  );
  let output = "";
  for (const stream of [child.stdout, child.stderr])
    stream?.on("data", (piece) => (output += piece));
  return new Promise((done) =>
    child.on("close", (status) => {
      if (place > 0) console.log(`${heading}\n${output}`);
      done({ status, report });
    }),
  );
}

/** Adds what a report says to what has passed and failed. */
function count(part, status, report) {
  if (!existsSync(report)) {
    failed++;
    faults.push(`${part.title ?? part.name}: no test ran`);
    return;
  }
  const { numPassedTests, numFailedTests, numFailedTestSuites, testResults } = JSON.parse(
    readFileSync(report, "utf8"),
  );
  for (const { name, status: result, message, assertionResults } of testResults) {
    const file = `${part.title ?? part.name}, ${path.relative(root, name)}`;
    const own = assertionResults.filter((t) => t.status === "failed");
    for (const t of own) faults.push(`${file}: ${t.fullName}\n    ${first(t.failureMessages[0])}`);
    if (result === "failed" && own.length === 0) faults.push(`${file}: ${first(message)}`);
  }
  passed += numPassedTests;
  // A file that fails before its first test counts as one failure.
  failed += numFailedTests || (status === 0 ? 0 : Math.max(1, numFailedTestSuites));
  if (numPassedTests + numFailedTests === 0) failed++;
}

/** A demo for the browsers to copy, and where it is. */
function seedDemo(folder) {
  const child = spawn(process.execPath, [fromSources, "src/demo/main.ts", folder], {
    cwd: root,
    stdio: ["ignore", "ignore", "inherit"],
  });
  return new Promise((done) =>
    child.on("close", (status) => {
      if (status !== 0) fail("The demo could not be seeded.");
      done(folder);
    }),
  );
}

/** The first lines of what a test says went wrong. */
function first(message = "") {
  return message.split("\n").slice(0, 4).join("\n    ");
}

function check([title, ...command]) {
  return new Promise((done) => {
    const child = spawn(process.execPath, command, { cwd: root });
    let output = "";
    for (const stream of [child.stdout, child.stderr])
      stream.on("data", (piece) => (output += piece));
    child.on("close", (status) => done({ title, status, output }));
  });
}
