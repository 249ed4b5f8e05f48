import type { JournalDraft } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import { approvalOfRun } from "../runs";

/**
 * Refuses what a rule of approval wants a second person for: slips and receipts do not wait for one. The bank's own
 * line can be explained by the items instead, in a run that does.
 */
export async function againstRules(
  context: Context,
  drafts: readonly JournalDraft[],
  /** What it is that does not wait. */
  what: string,
): Promise<Result<unknown>> {
  const approval = await approvalOfRun(context, { approved: "by rules" }, drafts);
  return approval
    ? fail({
        code: "INVALID",
        what: `By a rule, ${approval.why}, and ${what} does not wait for one: take the money by the bank’s line, whose run does`,
      })
    : ok({});
}
