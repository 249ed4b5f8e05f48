import { openDatabase, rows } from "/work/main/src/server/db";
import { sql } from "drizzle-orm";
const db = await openDatabase({ folder: process.argv[2]! });
console.log(await rows(db.db, sql.raw(process.argv[3]!)));
await db.close();
process.exit(0);
