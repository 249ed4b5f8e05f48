/**
 * What depends on the day on which something is made, and so says nothing against a template of it:
 * it is asked again then.
 */
export const LATER: ReadonlySet<string> = new Set([
  "PERIOD_MISSING",
  "PERIOD_CLOSED",
  "PERIOD_CLOSING",
  "PERIOD_NOT_OPENED",
  "PERIOD_AREA",
  "FORBIDDEN",
  "VALUE_NOT_ACTIVE",
  "RATE_MISSING",
  "RATE_OLD",
]);
