import type { Right } from "@/core/access";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import { readRun, type FoundRun } from "./readRun";

/** Whoever may do something with runs of some kind; the kind says which of them. */
export const ACT = [
  "post.ledger",
  "post.payables",
  "post.receivables",
  "post.banks",
  "post.assets",
  "period.ledger",
] as const satisfies readonly Right[];

/**
 * The run that somebody wants to act on, held for this transaction. `what` follows "You may not".
 * Errors: there is none; the right of its kind; it is in another state.
 */
export async function runToActOn(
  context: Context,
  key: string,
  what: string,
  state: FoundRun["status"] = "preview",
): Promise<Result<FoundRun>> {
  const found = await readRun(context, key, true);
  if (!found.ok) return found;
  const { definition, company, status } = found.value;
  if (!context.may(definition.right, company))
    return fail({ code: "FORBIDDEN", what: `${what} in ${company}` });
  if (status !== state) return fail({ code: "RUN_STATE", state: status });
  return ok(found.value);
}
