import { getTableColumns, sql, type InferInsertModel, type SQL } from "drizzle-orm";
import type { PgTable } from "drizzle-orm/pg-core";
import { encodeJson } from "@/core/shared";
import { arrayOf, type Db } from "./database";

/**
 * Writes any number of rows in one statement, each value under the name of its column: the columns
 * are those of the first row, and every row has the same. Rows that are refused refuse all.
 */
export async function insertAll<T extends PgTable>(
  tx: Db,
  table: T,
  values: readonly InferInsertModel<T>[],
): Promise<void> {
  const [first] = values;
  if (!first) return;
  const known = getTableColumns(table);
  const names = Object.keys(first) as (keyof typeof first & string)[];
  const column = (name: string): SQL => sql.raw(`"${snake(name)}"`);
  const texts = names.map((name) => {
    const type = known[name]!.getSQLType();
    return values.map((row) => textOf(row[name], type));
  });
  const typed = (value: SQL, i: number, list = ""): SQL =>
    sql`${value}::${sql.raw(known[names[i]!]!.getSQLType() + list)}`;
  // What is the same in every row is sent once.
  const differs = texts.map((list, i) => i === 0 || list.some((text) => text !== list[0]));
  const isJson = (i: number) => known[names[i]!]!.getSQLType() === "jsonb";
  const lists = texts.flatMap((list, i) => {
    if (!differs[i]) return [];
    // One text of JSON is read several times faster than an array of such texts.
    const json = () =>
      sql`jsonb_array_elements(${`[${list.map((t) => t ?? "null").join(",")}]`}::text::jsonb)`;
    return [isJson(i) ? json() : sql`unnest(${typed(arrayOf(list), i, "[]")})`];
  });
  const given = texts.map((list, i) => {
    if (!differs[i]) return typed(sql`${scalar(list[0]!)}`, i);
    const own = sql`x.${column(names[i]!)}`;
    return isJson(i) ? sql`nullif(${own}, 'null'::jsonb)` : own;
  });
  const varying = names.filter((_, i) => differs[i]).map(column);
  await tx.execute(sql`insert into ${table} (${sql.join(names.map(column), sql`, `)})
    select ${sql.join(given, sql`, `)}
    from rows from (${sql.join(lists, sql`, `)}) as x(${sql.join(varying, sql`, `)})`);
}

const scalar = (value: string | number | bigint | boolean | null): string | null =>
  value === null ? null : String(value);

function textOf(value: unknown, type: string): string | number | bigint | boolean | null {
  if (value === null || value === undefined) return null;
  if (type === "jsonb") return encodeJson(value);
  if (value instanceof Date) return value.toISOString();
  return value as string | number | bigint | boolean;
}

/** The name of a column in the database, as the schema makes it. */
const snake = (name: string): string => name.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);
