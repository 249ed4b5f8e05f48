import { sql } from "drizzle-orm";
import { controlProblems, journalInput, type JournalInput } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { type Context } from "../access";
import { documentLinks, setStatus } from "../documents";
import { ruleFor, whyOf } from "./approvalRules";
import { postEntries, readEntries } from "./entries";
import { type Row, one, notOpen, shown } from "./batchViews";

type Ready = Result<{
  batch: Row;
  drafts: { id: number; content: JournalInput }[];
  waived: boolean;
}>;

/**
 * A batch with its drafts, ready to go: not empty, and agreeing with the papers, or with a reason
 * why not from somebody who may give one.
 */
async function readyBatch(
  context: Context,
  id: number,
  waive: string,
  status: string,
): Promise<Ready> {
  const batch = await one(context, id, true);
  if (!batch.ok) return batch;
  if (batch.value.status !== status) return notOpen(batch.value.status);
  const drafts = await draftsOf(context, id);
  if (drafts.length === 0) return fail({ code: "BATCH_EMPTY" });
  const differing = controlProblems(shown(batch.value).lines);
  if (differing.length > 0 && batch.value.waived === "") {
    if (waive === "") return fail(...differing);
    if (!context.may("post.againstControl", batch.value.company))
      return fail({ code: "FORBIDDEN", what: "waive a difference to the control total" });
    if (waive.length < 5) return fail({ code: "REASON_REQUIRED", field: "waive" });
    await context.tx.execute(
      sql`update batch set waived_by = ${context.person.id}, waived_reason = ${waive}
        where document_id = ${id}`,
    );
  }
  return ok({
    batch: batch.value,
    drafts,
    waived: differing.length > 0,
  });
}

/**
 * The first rule that one of the journals of a batch falls under. Errors: it is not ready, or
 * something stands against its journals.
 */
export async function ruleOfBatch(
  context: Context,
  id: number,
  waive: string,
): Promise<Result<{ role: string; why: string } | null>> {
  const ready = await readyBatch(context, id, waive, "draft");
  if (!ready.ok) return ready;
  const { entries } = await readEntries(
    context,
    ready.value.drafts.map((d) => d.content),
  );
  const problems = entries.flatMap((e, journal) =>
    e.check.problems.filter((p) => p.code !== "FORBIDDEN").map((p) => ({ ...p, journal })),
  );
  if (problems.length > 0) return fail(...problems);
  const rules = await ruleFor(
    context,
    entries.map((e) => e.reading.entry),
  );
  const rule = rules.find((r) => r !== undefined);
  return ok(rule ? { role: rule.role, why: whyOf(rule) } : null);
}

async function draftsOf(
  { tx }: Context,
  id: number,
): Promise<{ id: number; content: JournalInput }[]> {
  const drafts = await rows<{ id: bigint; content: JournalInput }>(
    tx,
    sql`select document_id as id, content from journal_draft where batch_id = ${id}
      order by document_id for update`,
  );
  return drafts.map((d) => ({ id: Number(d.id), content: journalInput(d.content) }));
}

/** Posts every journal of a batch, or none. */
export async function postWholeBatch(
  context: Context,
  id: number,
  options: { waive?: string; approved?: boolean } = {},
): Promise<Result<{ name: string; journals: string[] }>> {
  const { tx } = context;
  const ready = await readyBatch(
    context,
    id,
    options.waive ?? "",
    options.approved ? "waiting" : "draft",
  );
  if (!ready.ok) return ready;
  const { batch, drafts, waived } = ready.value;
  const posted = await postEntries(
    context,
    drafts.map((d) => d.content),
    drafts.map((d) => d.id),
    options.approved ? { approved: true } : {},
  );
  if (!posted.ok) return posted;
  await documentLinks(
    tx,
    "batch",
    posted.value.map((p) => [id, p.id] as const),
  );
  await tx.execute(
    sql`update batch set entered = ${JSON.stringify(batch.sums ?? [])}::jsonb where document_id = ${id}`,
  );
  await setStatus(tx, [id], "posted");
  const journals = posted.value.map((p) => p.number);
  await context.audit({
    action: waived ? "posted, difference waived" : "posted",
    kind: "batch",
    recordId: id,
    label: batch.name,
    companyId: context.masters.companyByCode.get(batch.company)!.id,
    after: { journals },
  });
  return ok({ name: batch.name, journals });
}
