/** JSON in which amounts survive: a bigint is written as {"$n": "…"}. */
export const encodeJson = (value: unknown): string =>
  JSON.stringify(value, (_key, v: unknown) => (typeof v === "bigint" ? { $n: String(v) } : v));

export function decodeJson<T>(json: string): T {
  return withAmounts(JSON.parse(json)) as T;
}

/** Puts amounts in their places. A reviver would be asked for every value of a large answer. */
function withAmounts(value: unknown): unknown {
  if (typeof value !== "object" || value === null) return value;
  if ("$n" in value) return BigInt(value.$n as string);
  const own = value as Record<string, unknown>;
  for (const key of Object.keys(own)) {
    const found = own[key];
    if (typeof found !== "object" || found === null) continue;
    const read = withAmounts(found);
    if (read !== found) own[key] = read;
  }
  return value;
}
