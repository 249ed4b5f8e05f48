/** An error of the database as data, with what PostgreSQL says beside its sentence. */
export interface Failure {
  message: string;
  details: Record<string, string>;
}

/** What is no text of it does not travel. */
export function failureOf(error: unknown): Failure {
  if (!(error instanceof Error)) return { message: String(error), details: {} };
  const texts = Object.entries(error).filter(([, v]) => typeof v === "string");
  return { message: error.message, details: Object.fromEntries(texts) as Record<string, string> };
}

export const errorOf = ({ message, details }: Failure): Error =>
  Object.assign(new Error(message), details);
