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
  const arrays = texts.flatMap((list, i) => (differs[i] ? [typed(arrayOf(list), i, "[]")] : []));
  const given = texts.map((list, i) =>
    differs[i] ? sql`x.${column(names[i]!)}` : typed(sql`${scalar(list[0]!)}`, i),
  );
  const varying = names.filter((_, i) => differs[i]).map(column);
  await tx.execute(sql`insert into ${table} (${sql.join(names.map(column), sql`, `)})
    select ${sql.join(given, sql`, `)}
    from unnest(${sql.join(arrays, sql`, `)}) as x(${sql.join(varying, sql`, `)})`);
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
