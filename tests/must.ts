import type { Result } from "../src/core/shared";

/** Fails loudly in the preparation of a test or a measurement. */
export function must<T>(result: Result<T>): T {
  if (!result.ok)
    throw new Error(
      JSON.stringify(result.problems, (_k, v: unknown) => (typeof v === "bigint" ? String(v) : v)),
    );
  return result.value;
}
