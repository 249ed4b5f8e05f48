import { sql } from "drizzle-orm";

import { fail, ok, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import type { Context } from "../access";
import { runKind, type RunKind } from "./kind";
import type { RunView } from "./viewRuns";

export const COLUMNS = sql`r.id, d.number, r.kind, c.code as company, c.currency, d.status, d.title,
  r.params, r.proposal::text as proposal, r.overrides, d.created_by as "proposerId", r.basis,
  pb.name as "proposedBy", r.proposed_at as "proposedAt",
  po.name as "postedBy", r.posted_at as "postedAt", re.name as "reversedBy",
    r.reversed_at as "reversedAt", r.reversal_reason as "reversalReason"
  from run r join document d on d.id = r.id join company c on c.id = r.company_id
    join person pb on pb.id = d.created_by left join person po on po.id = r.posted_by left
    join person re on re.id = r.reversed_by`;

export type RunRow = Omit<
  RunView,
  "proposal" | "id" | "kindName" | "journals" | "mayPost" | "approval"
> & { id: bigint; proposal: string; basis: string; proposerId: number };

export async function readRun(
  context: Context,
  key: string,
  lock = false,
): Promise<Result<RunRow & { definition: RunKind }>> {
  const where = /^\d{1,15}$/.test(key)
    ? sql`r.id = ${Number(key)}`
    : sql`d.number = ${key.toUpperCase()}`;
  const [row] = await rows<RunRow>(
    context.tx,
    sql`select ${COLUMNS} where ${where} ${lock ? sql`for update of r` : sql``}`,
  );
  const definition = row && (await runKind(row.kind));
  return row && definition
    ? ok({ ...row, definition })
    : fail({ code: "NOT_FOUND", what: `run ${key.slice(0, 40)}` });
}

/** The identity of a run that is named by it or by its number. */
export async function runOf(tx: Db, key: string): Promise<number | undefined> {
  const [found] = await rows<{ id: bigint }>(
    tx,
    sql`select id from document where kind = 'run'
      and (number = ${key.toUpperCase()} or id::text = ${key})`,
  );
  return found && Number(found.id);
}
