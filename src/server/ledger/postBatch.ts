import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { controlProblems, journalInput, type ApprovalRule, type JournalInput } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context, companiesOf } from "../access";
import { ruleFor } from "./approvalRules";
import { postEntries, readEntries } from "./drafts";
import { reverseJournals } from "./reversals";
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
  const drafts = await rows<{ id: bigint; content: JournalInput }>(
    context.tx,
    sql`select document_id as id, content from journal_draft where batch_id = ${id}
      order by document_id for update`,
  );
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
    drafts: drafts.map((d) => ({ id: Number(d.id), content: journalInput(d.content) })),
    waived: differing.length > 0,
  });
}

/**
 * What sending a batch for approval rests on: it is ready, nothing stands against its journals, and
 * the first rule that one of them falls under.
 */
export async function batchForApproval(
  context: Context,
  id: number,
  waive: string,
): Promise<Result<{ rule: ApprovalRule | undefined }>> {
  const ready = await readyBatch(context, id, waive, "draft");
  if (!ready.ok) return ready;
  if (!context.may("prepare.ledger", ready.value.batch.company))
    return fail({ code: "FORBIDDEN", what: `prepare journals in ${ready.value.batch.company}` });
  const { entries } = await readEntries(
    context,
    ready.value.drafts.map((d) => d.content),
  );
  const problems = entries.flatMap((e, journal) =>
    e.check.problems.filter((p) => p.code !== "FORBIDDEN").map((p) => ({ ...p, journal })),
  );
  if (problems.length > 0) return fail(...problems);
  return ok({
    rule: (
      await ruleFor(
        context,
        entries.map((e) => e.reading.entry),
      )
    ).find((r) => r !== undefined),
  });
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
  await tx.execute(
    sql`insert into document_link (from_id, to_id, kind) select ${id}, x.id, 'batch'
      from unnest(${arrayOf(posted.value.map((p) => p.id))}::bigint[]) as x(id)`,
  );
  await tx.execute(
    sql`update batch set entered = ${JSON.stringify(batch.sums ?? [])}::jsonb where document_id = ${id}`,
  );
  await tx.execute(sql`update document set status = 'posted' where id = ${id}`);
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

/**
 * Posts every journal of a batch, or none. Refused while the control totals differ, unless somebody
 * who may says why it is right so.
 */
export const postBatch = defineUseCase({
  name: "postBatch",
  kind: "write",
  rights: ["post.ledger"],
  what: "post batches",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    waive: string().trim().default("").max(500),
  }),
  run: async (context, input): Promise<Result<{ journals: string[] }>> => {
    const batch = await one(context, input.id);
    if (!batch.ok) return batch;
    if (!context.may("post.ledger", batch.value.company))
      return fail({ code: "FORBIDDEN", what: `post journals in ${batch.value.company}` });
    const posted = await postWholeBatch(context, input.id, { waive: input.waive });
    return posted.ok ? ok({ journals: posted.value.journals }) : posted;
  },
});

/** Reverses every journal of a posted batch that stands, all or none. */
export const reverseBatch = defineUseCase({
  name: "reverseBatch",
  kind: "write",
  rights: ["reverse.ledger"],
  what: "reverse batches",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(500),
  }),
  run: async (context, input): Promise<Result<{ journals: string[] }>> => {
    const batch = await one(context, input.id, true);
    if (!batch.ok) return batch;
    if (!context.may("reverse.ledger", batch.value.company))
      return fail({ code: "FORBIDDEN", what: `reverse journals in ${batch.value.company}` });
    if (batch.value.status !== "posted")
      return fail({ code: "RUN_STATE", state: batch.value.status });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const standing = await rows<{ id: bigint }>(
      context.tx,
      sql`select l.to_id as id from document_link l
        where l.from_id = ${input.id} and l.kind = 'batch' and not exists (select 1 from journal r
        where r.reverses_id = l.to_id) order by l.to_id`,
    );
    const reversed = await reverseJournals(
      context,
      standing.map((s) => Number(s.id)),
      null,
    );
    if (!reversed.ok) return reversed;
    await context.tx.execute(sql`update document set status = 'reversed' where id = ${input.id}`);
    await context.audit({
      action: "reversed",
      kind: "batch",
      recordId: input.id,
      label: batch.value.name,
      companyId: context.masters.companyByCode.get(batch.value.company)!.id,
      after: { reason: input.reason, journals: reversed.value.map((r) => r.number) },
    });
    return ok({ journals: reversed.value.map((r) => r.number) });
  },
});
