import { sql } from "drizzle-orm";
import type { Found } from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";
import type { Context } from "../access";
import type { RunKind } from "./kind";

/** The name under which a kind of run takes its items. */
export const takenAs = ({ id, takesAs }: Pick<RunKind, "id" | "takesAs">): string => takesAs ?? id;

/** Which other run has one of the items, as what stands in the way. */
export async function whoHas(
  tx: Db,
  kind: Pick<RunKind, "id" | "takesAs">,
  runId: number,
  keys: readonly string[],
): Promise<Found> {
  const [other] = await rows<{ number: string; status: string }>(
    tx,
    sql`select d.number, d.status from run_item v join document d on d.id = v.run_id
      where v.taken_as = ${takenAs(kind)} and v.run_id <> ${runId}
      and v.key = any(${arrayOf(keys)}::text[]) limit 1`,
  );
  const what = other
    ? `${other.number} has taken this already and is ${other.status === "posted" ? "posted; reverse it" : "in preview; post or discard it"} first`
    : "One thing is twice among the items";
  return { code: "RUN_STANDS_IN_WAY", what };
}

/** Leaves the items of a run to others: it is undone, or what is left of them keeps them apart. */
export const releaseItems = (tx: Db, runId: number): Promise<unknown> =>
  tx.execute(
    sql`update run_item set taken_as = null where run_id = ${runId} and taken_as is not null`,
  );

/**
 * Holds proposals of a kind in a company apart: the second reads what the first has taken, instead
 * of proposing the same and being refused. Nobody's posting waits for it.
 */
export async function aloneWith(
  { tx }: Context,
  kind: Pick<RunKind, "id" | "takesAs">,
  params: Readonly<Record<string, unknown>>,
): Promise<void> {
  const name = `run ${takenAs(kind)} ${String(params.company)}`;
  await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${name}, 0))`);
}
