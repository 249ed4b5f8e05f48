// Seeds the demo's data folder: node scripts/run.mjs src/demo/main.ts FOLDER [--fresh]
import { existsSync, rmSync } from "node:fs";
import path from "node:path";
import { openDatabase } from "@/server/db";
import { lockFolder } from "@/server/db/folderLock";
import { explain } from "@/server/runtime";
import { seed } from "./seed";

const [folder = ".data/demo", option] = process.argv.slice(2);
process.env.YELLOW_ANCHOR_DATA = folder;
try {
  if (option === "--fresh" && existsSync(folder)) {
    // Held while it is emptied, so that a running demo is never pulled from under its people.
    const lock = lockFolder(folder);
    rmSync(path.join(folder, "db"), { recursive: true, force: true });
    lock.release();
  }
  const ready = path.join(folder, "db", "PG_VERSION");
  if (!existsSync(ready)) console.log("Seeding the demo …");
  const database = await openDatabase({ folder });
  await seed(database);
  await database.close();
  process.exit(0);
} catch (error) {
  console.error(`\n${explain(error)}\n`);
  process.exit(3);
}
