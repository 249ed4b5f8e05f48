import { sql, type SQL } from "drizzle-orm";
import { check, type AnyPgColumn } from "drizzle-orm/pg-core";

/** A column takes the words of a closed list of core, and nothing else. */
export function oneOf(name: string, column: AnyPgColumn, words: readonly string[]) {
  const list: SQL = sql.raw(words.map((w) => `'${w}'`).join(", "));
  return check(name, sql`${column} in (${list})`);
}
