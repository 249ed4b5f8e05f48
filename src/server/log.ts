import pino from "pino";

/**
 * An error without the values that a statement was sent with: those are people's data. What the
 * database says of it stays, its code and its sentence without what stands in quotes.
 */
export function withoutValues(error: unknown): Record<string, unknown> {
  if (!(error instanceof Error)) return { message: typeof error };
  const { code } = error as { code?: unknown };
  const [message = ""] = error.message.split("\nparams:");
  return {
    type: error.name,
    message: "code" in error ? message.replace(/"[^"]*"/g, '"…"') : message,
    ...(typeof code === "string" ? { code } : {}),
    stack: (error.stack ?? "")
      .split("\n")
      .filter((line) => /^\s+at /.test(line))
      .slice(0, 20)
      .join("\n"),
    ...(error.cause === undefined ? {} : { cause: withoutValues(error.cause) }),
  };
}

/** One line of JSON per event, to standard error, so that what a command prints stays its own. */
export const log = pino(
  { level: process.env.LOG_LEVEL ?? "warn", serializers: { err: withoutValues } },
  pino.destination({ dest: 2, sync: true }),
);
