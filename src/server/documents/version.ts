import { isDeepStrictEqual } from "node:util";
import { sql, type SQL } from "drizzle-orm";
import type { Right } from "@/core/access";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";

/** What is kept of a document that people write on. */
export interface KeptVersion {
  /** The company that it belongs to, whatever the copy that is sent says. */
  company: string;
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

/** An act on the kept copy itself: no other is sent. */
export const AS_KEPT = { version: 0, overwrite: true };

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

/**
 * What stands before every act on a kept document: the right in the company to which it belongs
 * (that of the copy sent is asked for by the use case), no older version, and no other company: a
 * document that moves from one company to another is begun anew there.
 */
export function guardKept<S extends KeptVersion>(
  context: Context,
  stored: S,
  sent: SentCopy & { content?: { company: string } },
  right: Right,
  what: string,
): Result<S> {
  if (!context.may(right, stored.company))
    return fail({ code: "FORBIDDEN", what: `${what} of ${stored.company}` });
  if (sent.content && sent.content.company !== stored.company)
    return fail({
      code: "INVALID",
      what: `It belongs to ${stored.company}. To have it in another company, copy it there and delete this one`,
      field: "company",
    });
  return guardVersion(context, stored, sent);
}

/**
 * Keeps in the history what a document said before somebody wrote over another's copy: nothing is
 * lost. Who has written is noted by the database itself.
 */
export async function noteOverwriting(
  context: Context,
  document: { id: number; kind: string },
  before: KeptVersion,
  sent: SentCopy,
): Promise<void> {
  if (!sent.overwrite || before.version === sent.version) return;
  await context.audit({
    action: "written over",
    kind: document.kind,
    recordId: document.id,
    companyId: context.masters.companyByCode.get(before.company)?.id ?? null,
    before: before.content,
    after: sent.content,
  });
}

/** Notes that the person has written on a document whose content no trigger of the database sees. */
export const noteWriter = ({ tx, person }: Context, documentId: number): Promise<unknown> =>
  tx.execute(
    sql`insert into document_writer (document_id, person_id) values (${documentId}, ${person.id})
      on conflict do nothing`,
  );

/**
 * The people who have written on a document, or on a draft that it holds together. Whoever
 * has may neither approve nor release it, nor may anybody in their name.
 */
export const writersOf = (documentId: SQL): SQL => sql`(select w.person_id from document_writer w
  where w.document_id = ${documentId} or w.document_id in (select x.document_id
    from journal_draft x where x.batch_id = ${documentId}))`;
