/** As many addresses are remembered at once. */
const MOST_KEPT = 100_000;
const seen = new Map<string, { since: number; count: number }>();

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
    // Those longest ago go first, so that many addresses at once free nobody from a limit.
    seen.delete(key);
    for (const old of seen.keys()) {
      if (seen.size < MOST_KEPT) break;
      seen.delete(old);
    }
    seen.set(key, { since: now, count: 1 });
    return true;
  }
  return ++entry.count <= perMinute;
}
