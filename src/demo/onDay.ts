import { sql } from "drizzle-orm";
import type { CalendarDate } from "@/core/shared";
import { rows, type Database } from "@/server/db";

/** Does something with the application's day set to an earlier one, as the person's day was then. */
export async function onDay<T>(
  database: Database,
  day: CalendarDate,
  job: () => Promise<T>,
): Promise<T> {
  const set = (value: string) =>
    database.db.execute(
      sql`update setting set value = ${JSON.stringify(value)}::jsonb where key = 'working-date'`,
    );
  const [now] = await rows<{ value: string }>(
    database.db,
    sql`select value from setting where key = 'working-date'`,
  );
  await set(day);
  try {
    return await job();
  } finally {
    await set(now!.value);
  }
}
