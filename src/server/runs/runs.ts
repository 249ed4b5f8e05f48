import { sql } from "drizzle-orm";
import { mixed, object, string, type AnySchema, type InferType } from "yup";
import type { Right } from "@/core/access";
import { reversalOf, type JournalDraft } from "@/core/ledger";
import type { Proposal } from "@/core/runs";
import { decodeJson, describeProblem, encodeJson, fail, ok, type Result } from "@/core/shared";
import { arrayOf, rows, sha256 } from "../db";
import { defineUseCase, type Context } from "../access";
import { loadPeriods } from "../organisation";
import { periodKey } from "@/core/organisation";
import { lockChains, postDrafts, readForReversal } from "../ledger";

/** A kind of run: what it needs, what it proposes, and what posting and reversing it mean beyond the journals. */
export interface RunKind<S extends AnySchema = AnySchema> {
  id: string;
  name: string;
  right: Right;
  schema: S;
  /** Reads what the proposal rests on and computes it; writes nothing. */
  propose(context: Context, params: InferType<S>): Promise<Result<Proposal & { company: string; yearId: number; date: string }>>;
  posted?(context: Context, run: { id: number; params: InferType<S> }): Promise<Result<unknown>>;
  /** Says what stands in the way of undoing it, and takes back what `posted` did. */
  reversing?(context: Context, run: { id: number; params: InferType<S> }): Promise<Result<unknown>>;
}

const kinds = new Map<string, RunKind>();
export function registerRunKind<S extends AnySchema>(kind: RunKind<S>): void {
  kinds.set(kind.id, kind as unknown as RunKind);
}
export const runKinds = (): RunKind[] => [...kinds.values()];

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
  proposedBy: string;
  proposedAt: string;
  postedBy: string | null;
  postedAt: string | null;
  reversedBy: string | null;
  reversedAt: string | null;
  reversalReason: string | null;
  journals: { id: number; number: string; description: string; total: bigint; reverses: boolean }[];
  mayPost: boolean;
}

const COLUMNS = sql`r.id, d.number, r.kind, c.code as company, c.currency, d.status, d.title, r.params, r.proposal::text as proposal, r.basis, pb.name as "proposedBy", r.proposed_at as "proposedAt",
  po.name as "postedBy", r.posted_at as "postedAt", re.name as "reversedBy", r.reversed_at as "reversedAt", r.reversal_reason as "reversalReason"
  from run r join document d on d.id = r.id join company c on c.id = r.company_id join person pb on pb.id = d.created_by left join person po on po.id = r.posted_by left join person re on re.id = r.reversed_by`;

type RunRow = Omit<RunView, "proposal" | "id" | "kindName" | "journals" | "mayPost"> & { id: bigint; proposal: string; basis: string };

async function readRun(context: Context, key: string, lock = false): Promise<Result<RunRow & { definition: RunKind }>> {
  const where = /^\d{1,15}$/.test(key) ? sql`r.id = ${Number(key)}` : sql`d.number = ${key.toUpperCase()}`;
  const [row] = await rows<RunRow>(context.tx, sql`select ${COLUMNS} where ${where} ${lock ? sql`for update of r` : sql``}`);
  const definition = row && kinds.get(row.kind);
  return row && definition ? ok({ ...row, definition }) : fail({ code: "NOT_FOUND", what: `run ${key.slice(0, 40)}` });
}

const basisOf = (proposal: Proposal): string => sha256(encodeJson({ items: proposal.items, drafts: proposal.drafts }));

export const proposeRun = defineUseCase({
  name: "proposeRun", kind: "write", rights: ["post.ledger", "post.payables", "post.receivables", "post.banks", "post.assets", "period.ledger"], what: "propose runs",
  schema: object({ kind: string().required(), params: mixed<Record<string, unknown>>().required() }),
  run: async (context, input): Promise<Result<{ id: number; number: string }>> => {
    const { tx, person, now, may } = context;
    const kind = kinds.get(input.kind);
    if (!kind) return fail({ code: "NOT_FOUND", what: `kind of run ${input.kind}`, field: "kind" });
    let params: Record<string, unknown>;
    try {
      params = kind.schema.validateSync(input.params, { stripUnknown: true }) as Record<string, unknown>;
    } catch (error) {
      return fail({ code: "INVALID", what: (error as Error).message });
    }
    const proposed = await kind.propose(context, params);
    if (!proposed.ok) return proposed;
    const { company, yearId, date, ...proposal } = proposed.value;
    if (!may(kind.right, company)) return fail({ code: "FORBIDDEN", what: `make the run ${kind.name.toLowerCase()} in ${company}` });
    const companyId = context.masters.companyByCode.get(company)!.id;
    const taken = await rows<{ number: string; status: string }>(tx, sql`select d.number, d.status from run_reservation v join document d on d.id = v.run_id where v.kind = ${kind.id} and v.item_key = any(${arrayOf(proposal.items.map((i) => i.key))}::text[]) limit 1`);
    if (taken[0]) return fail({ code: "RUN_STANDS_IN_WAY", what: `${taken[0].number} has taken this already and is ${taken[0].status === "preview" ? "in preview; post or discard it" : "posted; reverse it"} first` });
    const [counter] = await rows<{ last: number }>(tx, sql`insert into number_counter as n (series, company_id, year_id, last) values ('run', ${companyId}, ${yearId}, 1) on conflict (series, company_id, year_id) do update set last = n.last + 1 returning last`);
    const [year] = await rows<{ name: string }>(tx, sql`select name from fiscal_year where id = ${yearId}`);
    const runNumber = `${company}-${year!.name.slice(-2)}-R${String(counter!.last).padStart(4, "0")}`;
    const total = proposal.figures[0]?.amount ?? 0n;
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into document (kind, type, number, company_id, date, amount, currency, title, search, created_by, created_at, status)
          values ('run', ${kind.id}, ${runNumber}, ${companyId}, ${date}, ${total}, ${context.masters.companyByCode.get(company)!.currency}, ${proposal.title}, ${`${runNumber} ${proposal.title}`.toLowerCase()}, ${person.id}, ${now.toISOString()}, 'preview') returning id`,
    );
    const id = Number(made!.id);
    await tx.execute(sql`insert into run (id, kind, company_id, params, proposal, basis, proposed_at) values (${id}, ${kind.id}, ${companyId}, ${JSON.stringify(params)}::jsonb, ${encodeJson(proposal)}::jsonb, ${basisOf(proposal)}, ${now.toISOString()})`);
    await tx.execute(sql`insert into run_reservation (kind, item_key, run_id) select ${kind.id}, k, ${id} from unnest(${arrayOf(proposal.items.map((i) => i.key))}::text[]) as k`);
    await context.audit({ action: "proposed", kind: "run", recordId: id, label: runNumber, companyId });
    return ok({ id, number: runNumber });
  },
});

export const getRun = defineUseCase({
  name: "getRun", kind: "read", rights: ["read.ledger", "read.close"], what: "see runs", schema: object({ key: string().required().max(40) }),
  run: async (context, { key }): Promise<Result<RunView>> => {
    const found = await readRun(context, key);
    if (!found.ok) return found;
    const { definition, basis: _basis, ...row } = found.value;
    const journals = await rows<{ id: bigint; number: string; description: string; total: bigint; reverses: boolean }>(context.tx, sql`select id, number, description, total, reverses_id is not null as reverses from journal where origin_id = ${row.id} order by id`);
    return ok({ ...row, id: Number(row.id), kindName: definition.name, proposal: decodeJson<Proposal>(row.proposal), journals: journals.map((j) => ({ ...j, id: Number(j.id) })), mayPost: context.may(definition.right, row.company) });
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
}

export const listRuns = defineUseCase({
  name: "listRuns", kind: "read", rights: ["read.ledger", "read.close"], what: "see runs", company: (i) => i.company, schema: object({ company: string() }),
  run: async ({ tx, masters }, input): Promise<Result<RunRowView[]>> => {
    const company = input.company ? masters.companyByCode.get(input.company) : undefined;
    const found = await rows<Omit<RunRowView, "id" | "kindName"> & { id: bigint; kind: string }>(
      tx,
      sql`select r.id, d.number, r.kind, d.title, d.status, c.code as company, p.name as "proposedBy", r.proposed_at as "proposedAt", (select count(*)::int from journal j where j.origin_id = r.id) as journals, coalesce(d.amount, 0)::bigint as amount, c.currency
          from run r join document d on d.id = r.id join company c on c.id = r.company_id join person p on p.id = d.created_by where ${company ? sql`r.company_id = ${company.id}` : sql`true`} order by r.proposed_at desc, r.id desc limit 500`,
    );
    return ok(found.map(({ kind, ...f }) => ({ ...f, id: Number(f.id), kindName: kinds.get(kind)?.name ?? kind })));
  },
});

export const postRun = defineUseCase({
  name: "postRun", kind: "write", rights: ["post.ledger", "post.payables", "post.receivables", "post.banks", "post.assets", "period.ledger"], what: "post runs", schema: object({ key: string().required().max(40) }),
  run: async (context, { key }): Promise<Result<{ id: number; number: string; journals: string[] }>> => {
    const found = await readRun(context, key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company)) return fail({ code: "FORBIDDEN", what: `post this run in ${row.company}` });
    if (row.status !== "preview") return fail({ code: "RUN_STATE", state: row.status });
    // The ledger stands still from here on, so what is computed now is what will be posted.
    await lockChains(context.tx, [row.company]);
    const again = await definition.propose(context, row.params);
    if (!again.ok) return fail({ code: "RUN_MOVED", what: `The ledger has changed (${again.problems.map(describeProblem).join(" ")})` });
    if (basisOf(again.value) !== row.basis) return fail({ code: "RUN_MOVED", what: "The ledger has changed" });
    const id = Number(row.id);
    const drafts = decodeJson<Proposal>(row.proposal).drafts.map((d): JournalDraft => ({ ...d, origin: id }));
    const posted = await postDrafts(context, drafts);
    if (!posted.ok) return posted;
    const after = await definition.posted?.(context, { id, params: row.params });
    if (after && !after.ok) return after;
    await context.tx.execute(sql`update run set posted_by = ${context.person.id}, posted_at = ${context.now.toISOString()} where id = ${id}`);
    await context.tx.execute(sql`update document set status = 'posted' where id = ${id}`);
    await context.audit({ action: "posted", kind: "run", recordId: id, label: row.number, companyId: context.masters.companyByCode.get(row.company)!.id, after: { journals: posted.value.map((p) => p.number) } });
    return ok({ id, number: row.number, journals: posted.value.map((p) => p.number) });
  },
});

export const discardRun = defineUseCase({
  name: "discardRun", kind: "write", rights: ["post.ledger", "post.payables", "post.receivables", "post.banks", "post.assets", "period.ledger"], what: "discard previews", schema: object({ key: string().required().max(40) }),
  run: async (context, { key }): Promise<Result<{ id: number }>> => {
    const found = await readRun(context, key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company)) return fail({ code: "FORBIDDEN", what: `discard this preview in ${row.company}` });
    if (row.status !== "preview") return fail({ code: "RUN_STATE", state: row.status });
    await context.tx.execute(sql`delete from run_reservation where run_id = ${row.id}`);
    await context.tx.execute(sql`update document set status = 'discarded' where id = ${row.id}`);
    await context.audit({ action: "discarded", kind: "run", recordId: Number(row.id), label: row.number, companyId: context.masters.companyByCode.get(row.company)!.id });
    return ok({ id: Number(row.id) });
  },
});

/** Undoes a posted run as a unit: every journal that came from it, those that followed by themselves included. */
export const reverseRun = defineUseCase({
  name: "reverseRun", kind: "write", rights: ["reverse.ledger", "reverse.payables", "reverse.receivables", "reverse.banks", "reverse.assets"], what: "reverse runs",
  schema: object({ key: string().required().max(40), reason: string().default("").max(500) }),
  run: async (context, input): Promise<Result<{ id: number; journals: string[] }>> => {
    const { tx, masters } = context;
    const found = await readRun(context, input.key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company)) return fail({ code: "FORBIDDEN", what: `reverse this run in ${row.company}` });
    if (row.status !== "posted") return fail({ code: "RUN_STATE", state: row.status });
    if (input.reason.trim().length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    await lockChains(tx, [row.company]);
    const id = Number(row.id);
    const before = await definition.reversing?.(context, { id, params: row.params });
    if (before && !before.ok) return before;
    const company = masters.companyByCode.get(row.company)!;
    const periods = await loadPeriods(tx, [company.id], { areas: ["ledger"] });
    const journals = await rows<{ id: bigint }>(tx, sql`select j.id from journal j where j.origin_id = ${id} and j.reverses_id is null and not exists (select 1 from journal r where r.reverses_id = j.id) order by j.id`);
    const drafts = (await readForReversal(tx, journals.map((j) => j.id), masters, periods)).map((j): JournalDraft => ({ ...reversalOf(j, j.date, periodKey(j.period), masters.typeById.get(j.typeId)!.reversal), origin: id }));
    const posted = await postDrafts(context, drafts);
    if (!posted.ok) return posted;
    await tx.execute(sql`update run set reversed_by = ${context.person.id}, reversed_at = ${context.now.toISOString()}, reversal_reason = ${input.reason.trim()} where id = ${id}`);
    await tx.execute(sql`update document set status = 'reversed' where id = ${id}`);
    await tx.execute(sql`delete from run_reservation where run_id = ${id}`);
    await context.audit({ action: "reversed", kind: "run", recordId: id, label: row.number, companyId: company.id, after: { reason: input.reason, journals: posted.value.map((p) => p.number) } });
    return ok({ id, journals: posted.value.map((p) => p.number) });
  },
});
