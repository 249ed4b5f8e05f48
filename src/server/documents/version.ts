import { isDeepStrictEqual } from "node:util";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";

/** What is kept of a document that people write on. */
export interface KeptVersion {
  version: number;
  content: unknown;
  updatedBy: number;
  updatedByName: string;
  updatedAt: string;
}

/** The copy that somebody sends: which version it rests on, and what it says. */
export interface SentCopy {
  version: number;
  overwrite?: boolean;
  content?: unknown;
}

/** As it comes back from a JSON column: without what is undefined. */
const asKept = (content: unknown): unknown => JSON.parse(JSON.stringify(content ?? null));

/**
 * Refuses a copy that rests on an older version than the kept one. One that says the same is no
 * conflict: its save arrived and the answer was lost, or the page was drawn anew meanwhile.
 */
export function guardVersion<S extends KeptVersion>(
  context: Context,
  stored: S,
  sent: SentCopy,
): Result<S> {
  if (stored.version === sent.version || sent.overwrite) return ok(stored);
  if (sent.content !== undefined && isDeepStrictEqual(asKept(stored.content), asKept(sent.content)))
    return ok(stored);
  return fail({
    code: "STALE",
    by: stored.updatedBy === context.person.id ? "You, in another window," : stored.updatedByName,
    at: stored.updatedAt.slice(11, 16),
  });
}
