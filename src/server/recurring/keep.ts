import { sql } from "drizzle-orm";
import { fail, ok, readRhythm, type Result, type Rhythm } from "@/core/shared";
import type { Context } from "../access";
import { guardVersion, register, registerAgain, type RegisterEntry } from "../documents";
import type { RecurringKind } from "./kind";
import { readRecurring } from "./stored";

/** How a document that comes again stands in the register, without its kind and its state. */
export type RecurringEntry = Omit<RegisterEntry, "kind">;

/**
 * Keeps a document that comes again: a new one, or a version of one that is there. What stands
 * against its content is asked before.
 * Errors: those of its dates, NOT_FOUND, STALE, and where it would move to another company.
 */
export async function keepRecurring<C>(
  context: Context,
  kind: RecurringKind<C>,
  given: {
    id?: number | undefined;
    version: number;
    name: string;
    content: C;
    rhythm: Rhythm;
    entry: RecurringEntry;
  },
): Promise<Result<{ id: number; version: number }>> {
  const { tx, person, now, today, audit } = context;
  const rhythm = readRhythm(given.rhythm, today);
  if (!rhythm.ok) return rhythm;
  const written = sql`${JSON.stringify(given.content)}::jsonb`;
  const dates = sql`${JSON.stringify(rhythm.value)}::jsonb`;
  const after = { content: given.content, rhythm: rhythm.value };
  const noted = { kind: kind.noun, label: given.name, companyId: given.entry.companyId, after };
  const entry = { ...given.entry, kind: kind.id, title: given.name };
  if (given.id === undefined) {
    const [id] = await register(context, [{ ...entry, status: "active" }]);
    await tx.execute(
      sql`insert into recurring_document (document_id, content, rhythm, updated_by, updated_at)
        values (${id}, ${written}, ${dates}, ${person.id}, ${now.toISOString()})`,
    );
    await audit({ ...noted, action: "added", recordId: id! });
    return ok({ id: id!, version: 1 });
  }
  const [before] = await readRecurring(context, kind, sql`d.id = ${given.id}`, { lock: true });
  if (!before) return fail({ code: "NOT_FOUND", what: `such ${kind.noun}` });
  if (context.masters.companyByCode.get(before.company)!.id !== entry.companyId)
    return fail({ code: "INVALID", what: "It belongs to another company", field: "company" });
  const current = guardVersion(context, before, { version: given.version });
  if (!current.ok) return current;
  await registerAgain(tx, [{ ...entry, id: given.id }]);
  await tx.execute(
    sql`update recurring_document set content = ${written}, rhythm = ${dates},
      version = version + 1, updated_by = ${person.id}, updated_at = ${now.toISOString()}
      where document_id = ${given.id}`,
  );
  await audit({
    ...noted,
    action: "changed",
    recordId: given.id,
    before: { content: before.content, rhythm: before.rhythm },
  });
  return ok({ id: given.id, version: before.version + 1 });
}
