// npm run bench [-- --lines 1000000] [-- --only screens,lists]: ratios of quality, measured side by
// side in one run, with 100,000 lines where nothing is said. Exits non-zero where a bar falls short.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { measureAssets } from "./assets";
import { measureBanks } from "./banks";
import { openDatabase } from "../src/server/db";
import { measureLedger } from "./ledgerWork";
import { measureDesk } from "./desk";
import { measureLists } from "./lists";
import { holds, table, type Bar } from "./measure";
import { measurePayables } from "./payables";
import { measureRuns } from "./runs";
import { measureScreens } from "./screens";
import { measureSeals } from "./seals";

const said = (option: string): string | undefined => {
  const at = process.argv.indexOf(option);
  return at < 0 ? undefined : process.argv[at + 1];
};
const wanted = Number(said("--lines")) || 100_000;
const only = said("--only")?.split(",");
const say = (line: string): void => void process.stderr.write(`${line}\n`);
const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-bench-"));

/** What is measured, in this order: screens are served the ledger that was filled before. */
const parts: Record<string, () => Promise<Bar[]>> = {
  ledger: async () => {
    const database = await openDatabase(
      process.env.DATABASE_URL ? { url: process.env.DATABASE_URL } : { folder },
    );
    try {
      return await measureLedger(database, wanted, say);
    } finally {
      await database.close();
    }
  },
  payables: () => measurePayables(say),
  lists: () => measureLists(say),
  runs: () => measureRuns(say),
  banks: () => measureBanks(say),
  desk: () => measureDesk(say),
  assets: () => measureAssets(say),
  seals: async () => [await measureSeals(say)],
  // Screens are served by the application as built, on the embedded database.
  screens: async () => (process.env.DATABASE_URL ? [] : measureScreens(folder, say)),
};
const chosen = Object.entries(parts).filter(
  // Without the ledger there is nothing to serve.
  ([name]) => !only || only.includes(name) || (name === "ledger" && only.includes("screens")),
);
const bars: Bar[] = [];
try {
  for (const [name, measure] of chosen) {
    const start = Date.now();
    bars.push(...(await measure()));
    say(`${name}: ${Math.round((Date.now() - start) / 1000)} s`);
  }
  const where = process.env.DATABASE_URL ? "server" : "embedded";
  process.stdout.write(`\n${where}, ${wanted.toLocaleString("en")} lines\n${table(bars)}\n`);
} finally {
  rmSync(folder, { recursive: true, force: true });
}
process.exit(bars.every(holds) ? 0 : 1);
