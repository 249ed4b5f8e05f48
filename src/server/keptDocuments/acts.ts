import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import { askApproval } from "../approvals";
import { deleteDocument, noteOverwriting, type SentCopy } from "../documents";
import { guard } from "./guard";
import type { About, AnyKind, Kept, Saved, Written } from "./kind";
import { keepOne } from "./store";

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
    await noteOverwriting(context, { id, kind: stored.kind ?? kind.kinds[0] }, stored, input);
  const kept = await keepOne(kind, context, {
    ...(id === undefined ? {} : { id }),
    ...kindOf(kind, about),
    content,
    prepared: prepared.value,
  });
  if (id === undefined) await kind.added?.(context, kept.id, about.input);
  return ok({
    ...(await kind.check(context, content, prepared.value)),
    ...kept,
    savedAt: context.now.toISOString(),
  });
}

/** A kept one stays what it is; a new one is what it was begun as. */
function kindOf<C extends Written, S extends Kept<C>, P, K extends object>(
  { kinds }: AnyKind<C, S, P, K>,
  { stored, input }: About<S>,
) {
  const kind = stored?.kind ?? kinds.find((k) => k === input.kind);
  return kind ? { kind } : {};
}

/**
 * Sends one to whoever approves it, as it was sent or (without content) as it is kept: what is sent
 * is what is seen, checked in full.
 */
export async function submitOne<C extends Written, S extends Kept<C>, P, K extends object>(
  kind: AnyKind<C, S, P, K>,
  context: Context,
  input: SentCopy & { id: number; content?: C },
): Promise<Result<{ id: number; number: string; note?: string }>> {
  const { id } = input;
  const stored = await guard(kind, context, id, input, "submit");
  if (!stored.ok) return stored;
  const content = input.content ?? stored.value.content;
  const about = { id, stored: stored.value, input: input as unknown as About<S>["input"] };
  const prepared = await kind.prepare(context, content, about);
  if (!prepared.ok) return prepared;
  // Whether the person may post it is what the one who approves answers for.
  const [first, ...others] = kind.problems(prepared.value).filter((p) => p.code !== "FORBIDDEN");
  if (first) return fail(first, ...others);
  const rule = await kind.rule(context, content, prepared.value, about);
  if (!rule.ok) return rule;
  if (!rule.value)
    return fail({
      code: "INVALID",
      what: `No rule asks for the approval of this ${kind.one}; ${kind.posting.split(" ")[0]} it`,
    });
  const { version } =
    input.content === undefined
      ? stored.value
      : await keepOne(kind, context, {
          id,
          ...kindOf(kind, about),
          content,
          prepared: prepared.value,
        });
  const note = await kind.holdBack?.(context, content, prepared.value, about);
  if (note) return ok({ id, number: "", note });
  await askApproval(context, id, { ...rule.value, version });
  return ok({ id, number: "" });
}

/** Deletes a draft, of which the person has seen what it says. */
export async function removeOne<C extends Written, S extends Kept<C>, P, K extends object>(
  kind: AnyKind<C, S, P, K>,
  context: Context,
  input: { id: number; version: number },
): Promise<Result<object>> {
  const { id, version } = input;
  const found = await guard(kind, context, id, { version }, "remove");
  if (!found.ok) return found;
  const { company, content } = found.value;
  await kind.removing?.(context, id);
  const gone = await deleteDocument(context.tx, id);
  await context.audit({
    action: "draft deleted",
    kind: gone ?? kind.kinds[0],
    recordId: id,
    label: kind.label(content).slice(0, 80),
    companyId: context.masters.companyByCode.get(company)?.id ?? null,
    before: content,
  });
  return ok({});
}
