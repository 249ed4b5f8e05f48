import { BoundedMap } from "./boundedMap";

/** As many addresses are remembered at once. */
const seen = new BoundedMap<{ since: number; count: number }>(100_000);

/**
 * Whether one more request of this kind from this origin fits into the minute. Kept per process: it
 * slows guessing down;
 * what must hold across processes (the lock of a person) is in the database.
 */
export function allowed(
  kind: string,
  origin: string,
  perMinute: number,
  now = Date.now(),
): boolean {
  const key = `${kind}|${origin}`;
  const entry = seen.get(key);
  if (!entry || now - entry.since > 60_000) {
    seen.set(key, { since: now, count: 1 });
    return true;
  }
  return ++entry.count <= perMinute;
}
