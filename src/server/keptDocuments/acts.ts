import { sql } from "drizzle-orm";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import { askApproval } from "../approvals";
import { rows } from "../db";
import { AS_KEPT, noteOverwriting, type SentCopy } from "../documents";
import { guard } from "./guard";
import type { About, AnyKind, Kept, Saved, Sent, Written } from "./kind";

/**
 * Keeps what was typed, whatever is wrong with it, and says what is. A copy older than what is kept
 * is refused, not merged; what is written over stays in the history.
 */
export async function saveOne<C extends Written, S extends Kept<C>, P, K extends object>(
  kind: AnyKind<C, S, P, K>,
  context: Context,
  input: SentCopy & { id?: number; content: C },
): Promise<Result<Saved<K>>> {
  const { id, content } = input;
  let stored: S | null = null;
  if (id !== undefined) {
    const guarded = await guard(kind, context, id, input, "write");
    if (!guarded.ok) return guarded;
    stored = guarded.value;
  }
  const about = { id, stored, input: input as unknown as About<S>["input"] };
  const prepared = await kind.prepare(context, content, about);
  if (!prepared.ok) return prepared;
  if (id !== undefined && stored)
    await noteOverwriting(context, { id, kind: stored.kind ?? kind.kinds[0]! }, stored, input);
  const kept = await kind.keep(context, content, prepared.value, about);
  return ok({
    ...(await kind.check(context, content, prepared.value)),
    ...kept,
    savedAt: context.now.toISOString(),
  });
}

/** Sends one to whoever approves it: what is sent is what is seen, checked in full. */
export async function submitOne<C extends Written, S extends Kept<C>, P, K extends object>(
  kind: AnyKind<C, S, P, K>,
  context: Context,
  input: Sent<C>,
): Promise<Result<{ id: number; number: string; note?: string }>> {
  const { id, content } = input;
  const stored = await guard(kind, context, id, input, "submit");
  if (!stored.ok) return stored;
  const about = { id, stored: stored.value, input: input as unknown as About<S>["input"] };
  const prepared = await kind.prepare(context, content, about);
  if (!prepared.ok) return prepared;
  // Whether the person may post it is what the one who approves answers for.
  const [first, ...others] = kind.problems(prepared.value).filter((p) => p.code !== "FORBIDDEN");
  if (first) return fail(first, ...others);
  const rule = await kind.rule(context, content, prepared.value);
  if (!rule)
    return fail({
      code: "INVALID",
      what: `No rule asks for the approval of this ${kind.one}; ${kind.posting.split(" ")[0]} it`,
    });
  const kept = await kind.keep(context, content, prepared.value, about);
  const note = await kind.holdBack?.(context, content, prepared.value, about);
  if (note) return ok({ id, number: "", note });
  await askApproval(context, id, { ...rule, version: kept.version });
  return ok({ id, number: "" });
}

export async function removeOne<C extends Written, S extends Kept<C>, P, K extends object>(
  kind: AnyKind<C, S, P, K>,
  context: Context,
  id: number,
): Promise<Result<object>> {
  const found = await guard(kind, context, id, AS_KEPT, "remove");
  if (!found.ok) return found;
  const { company, content } = found.value;
  const [document] = await rows<{ kind: string }>(
    context.tx,
    sql`delete from document where id = ${id} returning kind`,
  );
  await context.audit({
    action: "draft deleted",
    kind: document?.kind ?? kind.kinds[0]!,
    recordId: id,
    label: kind.label(content).slice(0, 80),
    companyId: context.masters.companyByCode.get(company)?.id ?? null,
    before: content,
  });
  return ok({});
}
