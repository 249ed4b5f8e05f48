/** JSON in which amounts survive: a bigint is written as {"$n": "…"}. */
export const encodeJson = (value: unknown): string =>
  JSON.stringify(value, (_key, v: unknown) => (typeof v === "bigint" ? { $n: String(v) } : v));

export function decodeJson<T>(json: string): T {
  return JSON.parse(json, (_key, v: unknown) =>
    typeof v === "object" && v !== null && "$n" in v ? BigInt((v as { $n: string }).$n) : v,
  ) as T;
}
