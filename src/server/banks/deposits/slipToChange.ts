import { sql } from "drizzle-orm";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { rows } from "../../db";
import { readDeposit, type DepositView } from "./depositViews";

/** Who may undo what a slip did. */
export const RIGHTS = ["post.banks", "post.receivables"] as const;

/** A slip that the person may change, held while it is. */
export async function slipToChange(context: Context, id: number): Promise<Result<DepositView>> {
  const slip = await readDeposit(context, id, true);
  if (!slip) return fail({ code: "NOT_FOUND", what: "such deposit slip" });
  if (!RIGHTS.some((r) => context.may(r, slip.company)))
    return fail({ code: "FORBIDDEN", what: `deposit cheques of ${slip.company}` });
  return slip.status === "posted"
    ? ok(slip)
    : fail({ code: "INVALID", what: `${slip.number} is cancelled` });
}

/** The company whose chain is held while something of a slip is undone. */
export const locksOfSlip = async (
  { tx }: Pick<Context, "tx">,
  input: { id: number },
): Promise<string[]> =>
  (
    await rows<{ code: string }>(
      tx,
      sql`select c.code from document d join company c on c.id = d.company_id
        where d.id = ${input.id}::bigint`,
    )
  ).map((c) => c.code);
