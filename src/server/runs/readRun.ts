import { sql } from "drizzle-orm";
import type { RunHead, RunOverrides } from "@/core/runs";
import { decodeJson, fail, ok, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import type { Context } from "../access";
import { runKind, type RunKind } from "./kind";

/** A run as it stands in the register and in its table, without its items. */
export interface StoredRun {
  id: number;
  number: string;
  kind: string;
  company: string;
  currency: string;
  status: "computing" | "preview" | "posting" | "posted" | "reversed" | "discarded";
  title: string;
  params: Record<string, unknown>;
  overrides: RunOverrides;
  head: RunHead;
  detail: unknown;
  basis: string;
  stand: string | null;
  proposerId: number;
  proposedBy: string;
  proposedAt: string;
  postedBy: string | null;
  postedAt: string | null;
  reversedBy: string | null;
  reversedAt: string | null;
  reversalReason: string | null;
}
export type FoundRun = StoredRun & { definition: RunKind };

export async function readRun(
  context: Context,
  key: string,
  lock = false,
): Promise<Result<FoundRun>> {
  const where = /^\d{1,15}$/.test(key)
    ? sql`r.id = ${Number(key)}`
    : sql`d.number = ${key.toUpperCase()}`;
  const [row] = await rows<
    Omit<StoredRun, "id" | "head" | "detail"> & { id: bigint; head: string; detail: string | null }
  >(
    context.tx,
    sql`select r.id, d.number, r.kind, c.code as company, c.currency, d.status, d.title, r.params,
      r.overrides, r.head::text as head, r.detail::text as detail, r.basis, r.stand,
      d.created_by as "proposerId", pb.name as "proposedBy", r.proposed_at as "proposedAt",
      po.name as "postedBy", r.posted_at as "postedAt", re.name as "reversedBy",
      r.reversed_at as "reversedAt", r.reversal_reason as "reversalReason"
      from run r join document d on d.id = r.id join company c on c.id = r.company_id
      join person pb on pb.id = d.created_by left join person po on po.id = r.posted_by
      left join person re on re.id = r.reversed_by
      where ${where} ${lock ? sql`for update of r` : sql``}`,
  );
  const definition = row && (await runKind(row.kind));
  return row && definition
    ? ok({
        ...row,
        id: Number(row.id),
        head: decodeJson<RunHead>(row.head),
        detail: row.detail === null ? undefined : decodeJson(row.detail),
        definition,
      })
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
