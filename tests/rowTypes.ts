/** What a column may hold: names of JavaScript's types, "object" for JSON, or a closed set of words. */
export interface ColumnType {
  types: string[];
  words?: string[];
  optional?: boolean;
}
/** By place in the sources ("src/server/x.ts:12"), what the rows of a statement are said to be. */
export type RowTypes = Record<string, Record<string, ColumnType>>;

/** What is wrong with a row that is said to be of these columns; null if nothing is. */
export function faultOf(row: Record<string, unknown>, columns: RowTypes[string]): string | null {
  for (const [name, { types, words, optional }] of Object.entries(columns)) {
    const value = row[name];
    if (value === undefined) {
      if (optional) continue;
      return `has no ${name}`;
    }
    const type = value === null ? "null" : typeof value;
    if (!types.includes(type) && !(type === "null" && optional))
      return `has ${name}: ${type}, said to be ${types.join(" or ")}`;
    if (words && typeof value === "string" && !words.includes(value))
      return `has ${name}: "${value}", said to be ${words.join(" or ")}`;
  }
  return null;
}
