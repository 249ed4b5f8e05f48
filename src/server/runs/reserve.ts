import { sql } from "drizzle-orm";

import type { Proposal, RunOverrides } from "@/core/runs";
import { fail, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import type { Context } from "../access";
import type { RunKind } from "./kind";

/** Items that the run takes: what is left out or dropped stays free for another. */
export const taken = (proposal: Proposal, overrides: RunOverrides): string[] =>
  proposal.items
    .filter(
      (i) => i.takes !== false && i.leftOut === undefined && !overrides.dropped.includes(i.key),
    )
    .map((i) => i.key);

export async function reserve(
  { tx }: Context,
  of: Pick<RunKind, "id" | "takesAs">,
  runId: number,
  keys: readonly string[],
): Promise<Result<unknown>> {
  const kind = of.takesAs ?? of.id;
  const [other] = await rows<{ number: string; status: string }>(
    tx,
    sql`select d.number, d.status from run_reservation v join document d on d.id = v.run_id
      where v.kind = ${kind} and v.run_id <> ${runId} and v.item_key = any(${arrayOf(keys)}::text[])
      limit 1`,
  );
  if (other)
    return fail({
      code: "RUN_STANDS_IN_WAY",
      what: `${other.number} has taken this already and is ${other.status === "preview" ? "in preview; post or discard it" : "posted; reverse it"} first`,
    });
  await tx.execute(sql`delete from run_reservation where run_id = ${runId}`);
  await tx.execute(
    sql`insert into run_reservation (kind, item_key, run_id) select ${kind}, k, ${runId}
      from unnest(${arrayOf(keys)}::text[]) as k`,
  );
  return ok({});
}

/**
 * Holds proposals of a kind in a company apart: the second reads what the first has taken, instead
 * of proposing the same and being refused. Nobody's posting waits for it.
 */
export async function aloneWith(
  { tx }: Context,
  { id, takesAs }: Pick<RunKind, "id" | "takesAs">,
  params: Readonly<Record<string, unknown>>,
): Promise<void> {
  const name = `run ${takesAs ?? id} ${String(params.company)}`;
  await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${name}, 0))`);
}
