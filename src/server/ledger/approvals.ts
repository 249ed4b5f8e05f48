import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { journalInput, journalInputSchema, type JournalInput } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { askApproval, registerApprovable } from "../approvals";
import { ruleFor, whyOf } from "./approvalRules";
import { batchForApproval, postWholeBatch } from "./batches";
import { keepAndCheck, postEntries } from "./drafts";

/**
 * Sends a draft to whoever approves it. What was sent stays as it is until it is approved, returned
 * or withdrawn.
 */
export const submitDraft = defineUseCase({
  name: "submitDraft",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "send journals for approval",
  company: (i) => i.content.company,
  schema: object({
    id: number().integer().required(),
    version: number().integer().required(),
    content: journalInputSchema.required(),
  }),
  run: async (context, input): Promise<Result<{ id: number; number: string }>> => {
    const checked = await keepAndCheck(
      context,
      input.id,
      input.version,
      input.content as JournalInput,
    );
    if (!checked.ok) return checked;
    const [rule] = await ruleFor(context, [checked.value.entry]);
    if (!rule)
      return fail({
        code: "INVALID",
        what: "No rule asks for the approval of this journal; post it",
      });
    await askApproval(context, input.id, {
      role: rule.role,
      why: whyOf(rule),
      version: checked.value.version,
    });
    return ok({ id: input.id, number: "" });
  },
});

/**
 * Sends a whole batch for approval: all its journals wait together, and approving posts them
 * together. A difference to the control total needs its reason as in posting.
 */
export const submitBatch = defineUseCase({
  name: "submitBatch",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "send batches for approval",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    waive: string().trim().default("").max(500),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const batch = await batchForApproval(context, input.id, input.waive);
    if (!batch.ok) return batch;
    if (!batch.value.rule)
      return fail({
        code: "INVALID",
        what: "No rule asks for the approval of a journal in this batch; post it",
      });
    await askApproval(context, input.id, {
      role: batch.value.rule.role,
      why: whyOf(batch.value.rule),
    });
    return ok({ id: input.id });
  },
});

registerApprovable({
  kind: "journal",
  approve: async (context, id) => {
    const [draft] = await rows<{ content: JournalInput }>(
      context.tx,
      sql`select content from journal_draft where document_id = ${id}`,
    );
    const posted = await postEntries(context, [journalInput(draft!.content)], [id], {
      approved: true,
    });
    return posted.ok ? ok({ number: posted.value[0]!.number }) : posted;
  },
});

registerApprovable({
  kind: "batch",
  approve: async (context, id) => {
    const posted = await postWholeBatch(context, id, { approved: true });
    return posted.ok ? ok({ number: posted.value.name }) : posted;
  },
});
