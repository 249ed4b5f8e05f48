// Runs one of the project's TypeScript programs: node scripts/run.mjs FILE [ARGUMENTS]
import { install, root, spawnSync, tsx } from "./lib.mjs";

install();
const result = spawnSync(process.execPath, [tsx, ...process.argv.slice(2)], { cwd: root, stdio: "inherit" });
process.exit(result.status ?? 1);
