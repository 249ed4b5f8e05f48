// Runs one of the project's TypeScript programs: node scripts/run.mjs [--built] FILE [ARGUMENTS].
// With --built the application is built before.
import { build, fromSources, install, root, spawnSync } from "./lib.mjs";

install();
const args = process.argv.slice(2);
if (args[0] === "--built") {
  args.shift();
  build();
}
const result = spawnSync(process.execPath, [fromSources, ...args], {
  cwd: root,
  stdio: "inherit",
});
process.exit(result.status ?? 1);
