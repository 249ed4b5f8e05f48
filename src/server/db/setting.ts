import { sql } from "drizzle-orm";
import { rows, type Db } from "./database";

/** What was set under a name; undefined where nothing was. */
export async function readSetting<T>(db: Db, key: string): Promise<T | undefined> {
  const [found] = await rows<{ value: T }>(db, sql`select value from setting where key = ${key}`);
  return found?.value;
}

/** Sets what stands under a name, in place of what stood there. */
export async function writeSetting(db: Db, key: string, value: unknown): Promise<void> {
  await db.execute(
    sql`insert into setting (key, value) values (${key}, ${JSON.stringify(value)}::jsonb)
      on conflict (key) do update set value = excluded.value`,
  );
}
