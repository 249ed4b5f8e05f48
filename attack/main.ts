// npm run attack [-- --port 3000] [--data FOLDER] [--short]: tries known attacks against a running
// demo, on this machine alone, and prints what held. Exits non-zero where one did not.
import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import { DEMO_PASSWORD } from "../src/demo/people";
import { attack } from "./attack";
import { table } from "./report";

const args = process.argv.slice(2);
const named = (name: string, otherwise: string): string =>
  args.includes(`--${name}`) ? (args[args.indexOf(`--${name}`) + 1] ?? otherwise) : otherwise;
const short = args.includes("--short");
const lock = path.join(named("data", ".data/demo"), "in-use");

const from = Date.now();
const outcomes = await attack({
  base: `http://127.0.0.1:${named("port", "3000")}`,
  password: DEMO_PASSWORD,
  own: "MBY",
  other: "HSF",
  size: short ? 4 : 20,
  // The folder's lock names the process that serves it; its memory is watched.
  pid: existsSync(lock) ? (JSON.parse(readFileSync(lock, "utf8")) as { pid: number }).pid : null,
  patient: !short,
});
console.log(table(outcomes));
const failed = outcomes.filter((o) => !o.holds).length;
const seconds = Math.round((Date.now() - from) / 1000);
console.log(`\n${outcomes.length} attacks in ${seconds} s, ${failed} got through`);
process.exit(failed === 0 ? 0 : 1);
