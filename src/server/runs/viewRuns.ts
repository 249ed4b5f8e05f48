import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { Right } from "@/core/access";
import { runKindName, type ItemState } from "@/core/runs";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import type { JobView } from "../jobs";
import { defineUseCase, type Context } from "../access";
import { approvalOfRun } from "./approvalOfRun";
import { readRun, type FoundRun, type StoredRun } from "./readRun";
import { readDrafts } from "./storedRun";

/** A run without its items, which come page by page. */
export interface RunView extends Omit<StoredRun, "basis" | "stand" | "proposerId"> {
  kindName: string;
  /** How many items it has, by their state; how many groups; how many journals it would post. */
  items: Record<ItemState, number>;
  groups: number;
  drafts: number;
  /** Why somebody other than the proposer has to post it; null where nobody has to. */
  approval: string | null;
  journals: { id: number; number: string; description: string; total: bigint; reverses: boolean }[];
  /** What it made beside journals: invoices as drafts, say. */
  made: { id: number; kind: string; number: string; title: string; status: string }[];
  mayPost: boolean;
  /** What is done with it by and by, or what came of that where it did not end well. */
  job: Pick<JobView, "id" | "kind" | "state" | "done" | "total" | "note"> | null;
}

/** Who sees runs. */
export const SEE = ["read.ledger", "read.close"] as const satisfies readonly Right[];

/** The run that somebody wants to see. */
export async function runToSee(context: Context, key: string): Promise<Result<FoundRun>> {
  const found = await readRun(context, key);
  return !found.ok || SEE.some((r) => context.may(r, found.value.company))
    ? found
    : fail({ code: "FORBIDDEN", what: `see runs of ${found.value.company}` });
}

export const getRun = defineUseCase({
  name: "getRun",
  kind: "read",
  rights: SEE,
  what: "see runs",
  of: "checked",
  schema: object({ key: string().required().max(40) }),
  run: async (context, { key }): Promise<Result<RunView>> => {
    const found = await runToSee(context, key);
    if (!found.ok) return found;
    const { tx } = context;
    const { definition, basis: _basis, stand: _stand, proposerId: _proposer, ...run } = found.value;
    const journals = await rows<{
      id: bigint;
      number: string;
      description: string;
      total: bigint;
      reverses: boolean;
    }>(
      tx,
      sql`select id, number, description, total, reverses_id is not null as reverses from journal
        where origin_id = ${run.id} order by id`,
    );
    const made = await rows<RunView["made"][number]>(
      tx,
      sql`select d.id::int as id, d.kind, coalesce(d.number, '') as number, d.title, d.status
        from document_link l join document d on d.id = l.to_id
        where l.from_id = ${run.id} and l.kind = 'made' and d.kind <> 'journal' order by d.id`,
    );
    const [counted] = await rows<Pick<RunView, "items" | "groups" | "drafts">>(
      tx,
      sql`select jsonb_build_object('in', count(*) filter (where state = 'in'),
          'dropped', count(*) filter (where state = 'dropped'),
          'waiting', count(*) filter (where state = 'waiting'),
          'out', count(*) filter (where state = 'out')) as items,
        count(distinct grouping)::int as groups,
        (select count(*)::int from run_draft where run_id = ${run.id}) as drafts
        from run_item where run_id = ${run.id}`,
    );
    const [job] = await rows<NonNullable<RunView["job"]>>(
      tx,
      sql`select id, kind, state, done, total, note from job
        where params->>'run' = ${String(run.id)}
        order by id desc limit 1`,
    );
    const approval =
      run.status === "preview"
        ? await approvalOfRun(context, definition, await readDrafts(tx, run.id))
        : null;
    return ok({
      ...run,
      ...counted!,
      made,
      kindName: runKindName(definition.id),
      approval: approval?.why ?? null,
      journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      mayPost: context.may(definition.right, run.company),
      job: job && job.state !== "done" ? job : null,
    });
  },
});
