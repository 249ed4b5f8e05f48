import pino from "pino";

/** One line of JSON per event, to standard error, so that what a command prints stays its own. */
export const log = pino(
  { level: process.env.LOG_LEVEL ?? "warn" },
  pino.destination({ dest: 2, sync: true }),
);
