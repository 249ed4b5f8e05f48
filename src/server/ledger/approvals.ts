import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { askApproval, type Approve } from "../approvals";
import { whyOf } from "./approvalRules";
import { batchForApproval, postWholeBatch } from "./postBatch";

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

export const approveBatch: Approve = async (context, id) => {
  const posted = await postWholeBatch(context, id, { approved: true });
  return posted.ok ? ok({ number: posted.value.name }) : posted;
};
