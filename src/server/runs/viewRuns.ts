import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { Right } from "@/core/access";
import { runKindName, type Proposal, type RunOverrides } from "@/core/runs";
import { decodeJson, fail, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
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

const SEE = ["read.ledger", "read.close"] as const satisfies readonly Right[];

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

export interface RunRowView {
  id: number;
  number: string;
  kindName: string;
  title: string;
  status: string;
  company: string;
  proposedBy: string;
  proposedAt: string;
  journals: number;
  amount: bigint;
  currency: string;
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}

export const listRuns = defineUseCase({
  name: "listRuns",
  kind: "read",
  rights: SEE,
  what: "see runs",
  company: (i) => i.company,
  schema: object({ company: string() }),
  run: async ({ tx, masters, may }, input): Promise<Result<RunRowView[]>> => {
    const company = input.company ? masters.companyByCode.get(input.company) : undefined;
    if (input.company && !company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const seen = (company ? [company] : [...masters.companyByCode.values()])
      .filter((c) => SEE.some((r) => may(r, c.code)))
      .map((c) => c.id);
    const found = await rows<Omit<RunRowView, "id" | "kindName"> & { id: bigint; kind: string }>(
      tx,
      sql`select r.id, d.number, r.kind, d.title, d.status, c.code as company,
        p.name as "proposedBy", r.proposed_at as "proposedAt", (select count(*)::int from journal j
        where j.origin_id = r.id) as journals, coalesce(d.amount, 0)::bigint as amount, c.currency,
        count(*) over ()::int as "of"
          from run r join document d on d.id = r.id join company c on c.id = r.company_id
            join person p on p.id = d.created_by where r.company_id = any(${arrayOf(seen)}::int[])
            order by r.proposed_at desc, r.id desc limit 500`,
    );
    return ok(
      found.map(({ kind, ...f }) => ({
        ...f,
        id: Number(f.id),
        kindName: runKindName(kind),
      })),
    );
  },
});
