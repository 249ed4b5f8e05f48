import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { Right } from "@/core/access";
import { runKindName, type Proposal, type RunOverrides } from "@/core/runs";
import { decodeJson, fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { approvalOfRun } from "./approvalOfRun";
import { readRun } from "./readRun";

export interface RunView {
  id: number;
  number: string;
  kind: string;
  kindName: string;
  company: string;
  currency: string;
  status: "preview" | "posted" | "reversed" | "discarded";
  title: string;
  params: Record<string, unknown>;
  proposal: Proposal;
  overrides: RunOverrides;
  /** Why somebody other than the proposer has to post it; null where nobody has to. */
  approval: string | null;
  proposedBy: string;
  proposedAt: string;
  postedBy: string | null;
  postedAt: string | null;
  reversedBy: string | null;
  reversedAt: string | null;
  reversalReason: string | null;
  journals: { id: number; number: string; description: string; total: bigint; reverses: boolean }[];
  /** What it made beside journals: invoices as drafts, say. */
  made: { id: number; kind: string; number: string; title: string; status: string }[];
  mayPost: boolean;
}

/** Who sees runs. */
export const SEE = ["read.ledger", "read.close"] as const satisfies readonly Right[];

export const getRun = defineUseCase({
  name: "getRun",
  kind: "read",
  rights: SEE,
  what: "see runs",
  of: "checked",
  schema: object({ key: string().required().max(40) }),
  run: async (context, { key }): Promise<Result<RunView>> => {
    const found = await readRun(context, key);
    if (!found.ok) return found;
    const { definition, basis: _basis, proposerId: _proposer, ...row } = found.value;
    if (!SEE.some((r) => context.may(r, row.company)))
      return fail({ code: "FORBIDDEN", what: `see runs of ${row.company}` });
    const proposal = decodeJson<Proposal>(row.proposal);
    const journals = await rows<{
      id: bigint;
      number: string;
      description: string;
      total: bigint;
      reverses: boolean;
    }>(
      context.tx,
      sql`select id, number, description, total, reverses_id is not null as reverses from journal
        where origin_id = ${row.id} order by id`,
    );
    const made = await rows<RunView["made"][number]>(
      context.tx,
      sql`select d.id::int as id, d.kind, coalesce(d.number, '') as number, d.title, d.status
        from document_link l join document d on d.id = l.to_id
        where l.from_id = ${row.id} and l.kind = 'made' and d.kind <> 'journal' order by d.id`,
    );
    return ok({
      ...row,
      id: Number(row.id),
      made,
      kindName: runKindName(definition.id),
      proposal,
      approval:
        row.status === "preview"
          ? ((await approvalOfRun(context, definition, proposal))?.why ?? null)
          : null,
      journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      mayPost: context.may(definition.right, row.company),
    });
  },
});
