import { sql } from "drizzle-orm";
import { array, mixed, object, string, type AnySchema, type InferType } from "yup";
import type { Right } from "@/core/access";
import { reversalOf, type JournalDraft } from "@/core/ledger";
import {
  NO_OVERRIDES,
  runKindName,
  type Proposal,
  type RunKindId,
  type RunOverrides,
} from "@/core/runs";
import {
  decodeJson,
  describeProblem,
  encodeJson,
  fail,
  ok,
  textRecord,
  type Result,
} from "@/core/shared";
import { arrayOf, rows, sha256, type Db } from "../db";
import { defineUseCase, type Context, companiesOf, lockChains } from "../access";
import { noteWriter, takeNumber, writersOf } from "../documents";
import {
  linkedJournals,
  linkJournals,
  postDrafts,
  reversalPlans,
  ruleFor,
  whyOf,
  type PostedJournal,
} from "../ledger";

/** What a run proposes, with where it belongs. */
export type Proposed = Proposal & { company: string; yearId: number; date: string };

/**
 * A kind of run: what it needs, what it proposes, and what posting and reversing it mean beyond the
 * journals.
 */
export interface RunKind<S extends AnySchema = AnySchema> {
  id: RunKindId;
  right: Right;
  schema: S;
  /**
   * Whether approval rules hold for what it posts: for each journal, or for all of them as one.
   * Kinds whose documents are approved before say no.
   */
  approved?: "by rules" | "as one";
  /**
   * The kind under whose name it takes its items, where several kinds take from the same ones; its
   * own where none is said.
   */
  takesAs?: RunKindId;
  /**
   * Reads what the proposal rests on and computes it, with what a person has changed in the
   * preview; writes nothing. `run` is the run that is computed again.
   */
  propose(
    context: Context,
    params: InferType<S>,
    overrides: RunOverrides,
    run?: number,
  ): Promise<Result<Proposed>>;
  /**
   * What stands against changing a preview, with what it would become; or against discarding it
   * (null).
   */
  changing?(
    context: Context,
    run: { id: number; params: InferType<S>; next: Proposal | null },
  ): Promise<Result<unknown>>;
  /** What posting means beyond the journals, which come in the order of the proposal's drafts. */
  posted?(
    context: Context,
    run: {
      id: number;
      params: InferType<S>;
      proposal: Proposal;
      journals: readonly PostedJournal[];
      approved: boolean;
    },
  ): Promise<Result<unknown>>;
  /** Says what stands in the way of undoing it, and takes back what `posted` did. */
  reversing?(
    context: Context,
    run: { id: number; params: InferType<S>; dayOf: (journal: number) => string },
  ): Promise<Result<unknown>>;
  /** What undoing means once its journals are reversed, by the first of them. */
  reversed?(
    context: Context,
    run: {
      id: number;
      params: InferType<S>;
      reason: string;
      reversal: { id: number; date: string };
    },
  ): Promise<void>;
}

/** A kind of run, whatever it needs: what the list of all kinds holds. */
export const defineRunKind = <S extends AnySchema>(kind: RunKind<S>): RunKind =>
  kind as unknown as RunKind;

/**
 * The kind of that name. The list is fetched when it is needed, as its areas stand on this one.
 */
export async function runKind(id: string): Promise<RunKind | undefined> {
  const { RUN_KINDS } = await import("../kinds");
  return id in RUN_KINDS ? RUN_KINDS[id as RunKindId] : undefined;
}

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

const COLUMNS = sql`r.id, d.number, r.kind, c.code as company, c.currency, d.status, d.title,
  r.params, r.proposal::text as proposal, r.overrides, d.created_by as "proposerId", r.basis,
  pb.name as "proposedBy", r.proposed_at as "proposedAt",
  po.name as "postedBy", r.posted_at as "postedAt", re.name as "reversedBy",
    r.reversed_at as "reversedAt", r.reversal_reason as "reversalReason"
  from run r join document d on d.id = r.id join company c on c.id = r.company_id
    join person pb on pb.id = d.created_by left join person po on po.id = r.posted_by left
    join person re on re.id = r.reversed_by`;

type RunRow = Omit<
  RunView,
  "proposal" | "id" | "kindName" | "journals" | "mayPost" | "approval"
> & { id: bigint; proposal: string; basis: string; proposerId: number };

async function readRun(
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

/**
 * What must still be so when it is posted. Items that are left out are not part of it: another run
 * may have paid them meanwhile.
 */
const basisOf = (proposal: Proposal): string =>
  sha256(
    encodeJson({
      items: proposal.items.filter((i) => i.leftOut === undefined),
      drafts: proposal.drafts,
      ...(proposal.detail === undefined ? {} : { detail: proposal.detail }),
    }),
  );

/** Items that the run takes: what is left out or dropped stays free for another. */
const taken = (proposal: Proposal, overrides: RunOverrides): string[] =>
  proposal.items
    .filter(
      (i) => i.takes !== false && i.leftOut === undefined && !overrides.dropped.includes(i.key),
    )
    .map((i) => i.key);

async function reserve(
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
 * Who has to look at a run before it posts: the first rule that one of its journals falls under.
 */
export async function approvalOfRun(
  context: Context,
  kind: Pick<RunKind, "approved">,
  proposal: Proposal,
): Promise<{ role: string; why: string } | null> {
  if (!kind.approved) return null;
  const functionalOf = (company: string): string =>
    context.masters.companyByCode.get(company)!.currency;
  const [first] = proposal.drafts;
  const whole = first && {
    type: first.type,
    company: first.company,
    date: first.date,
    currency: functionalOf(first.company),
    lines: proposal.drafts
      .filter((d) => d.company === first.company)
      .flatMap((d) => d.lines.map((l) => ({ account: l.account, side: l.side, amount: l.amount }))),
  };
  const rules = await ruleFor(
    context,
    kind.approved === "as one"
      ? whole
        ? [whole]
        : []
      : proposal.drafts.map((d) => ({
          type: d.type,
          company: d.company,
          date: d.date,
          currency: d.currency ?? functionalOf(d.company),
          lines: d.lines.map((l) => ({
            account: l.account,
            side: l.side,
            amount: l.foreignAmount ?? l.amount,
          })),
        })),
  );
  const rule = rules.find((r) => r !== undefined);
  return rule ? { role: rule.role, why: whyOf(rule) } : null;
}

export const proposeRun = defineUseCase({
  name: "proposeRun",
  kind: "write",
  rights: [
    "post.ledger",
    "post.payables",
    "post.receivables",
    "post.banks",
    "post.assets",
    "period.ledger",
  ],
  what: "propose runs",
  of: "checked",
  schema: object({
    kind: string().required(),
    params: mixed<Record<string, unknown>>().required(),
  }),
  run: async (context, input): Promise<Result<{ id: number; number: string }>> => {
    const kind = await runKind(input.kind);
    if (!kind) return fail({ code: "NOT_FOUND", what: `kind of run ${input.kind}`, field: "kind" });
    let params: Record<string, unknown>;
    try {
      params = kind.schema.validateSync(input.params, { stripUnknown: true }) as Record<
        string,
        unknown
      >;
    } catch (error) {
      return fail({ code: "INVALID", what: (error as Error).message });
    }
    await aloneWith(context, kind, params);
    const proposed = await kind.propose(context, params, NO_OVERRIDES);
    return proposed.ok ? keepProposal(context, kind, params, proposed.value) : proposed;
  },
});

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

/** Keeps what a kind of run proposes as a preview, and its items from other runs. */
export async function keepProposal(
  context: Context,
  kind: Pick<RunKind, "id" | "right" | "takesAs">,
  params: Record<string, unknown>,
  proposed: Proposed,
): Promise<Result<{ id: number; number: string }>> {
  const { tx, person, now, may } = context;
  const { company, yearId, date, ...proposal } = proposed;
  if (!may(kind.right, company))
    return fail({
      code: "FORBIDDEN",
      what: `make the run ${runKindName(kind.id).toLowerCase()} in ${company}`,
    });
  const companyId = context.masters.companyByCode.get(company)!.id;
  const [year] = await rows<{ id: number; name: string }>(
    tx,
    sql`select id, name from fiscal_year where id = ${yearId}`,
  );
  const runNumber = await takeNumber(tx, {
    series: "run",
    company: { id: companyId, code: company },
    year: year!,
  });
  const total = proposal.figures[0]?.amount ?? 0n;
  const [made] = await rows<{ id: bigint }>(
    tx,
    sql`insert into document (kind, type, number, company_id, date, amount, currency, title, search,
      created_by, created_at, status)
        values ('run', ${kind.id}, ${runNumber}, ${companyId}, ${date}, ${total},
          ${context.masters.companyByCode.get(company)!.currency}, ${proposal.title},
          ${`${runNumber} ${proposal.title}`.toLowerCase()}, ${person.id}, ${now.toISOString()},
          'preview') returning id`,
  );
  const id = Number(made!.id);
  await tx.execute(
    sql`insert into run (id, kind, company_id, params, proposal, basis, proposed_at)
      values (${id}, ${kind.id}, ${companyId}, ${JSON.stringify(params)}::jsonb,
      ${encodeJson(proposal)}::jsonb, ${basisOf(proposal)}, ${now.toISOString()})`,
  );
  await noteWriter(context, id);
  const reserved = await reserve(context, kind, id, taken(proposal, NO_OVERRIDES));
  if (!reserved.ok) return reserved;
  await context.audit({
    action: "proposed",
    kind: "run",
    recordId: id,
    label: runNumber,
    companyId,
  });
  return ok({ id, number: runNumber });
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

/** Takes over what a person has changed in a preview, and computes it again. */
/** The identity of a run that is named by it or by its number. */
async function runOf(tx: Db, key: string): Promise<number | undefined> {
  const [found] = await rows<{ id: bigint }>(
    tx,
    sql`select id from document where kind = 'run'
      and (number = ${key.toUpperCase()} or id::text = ${key})`,
  );
  return found && Number(found.id);
}

export const changeRun = defineUseCase({
  name: "changeRun",
  kind: "write",
  rights: [
    "post.ledger",
    "post.payables",
    "post.receivables",
    "post.banks",
    "post.assets",
    "period.ledger",
  ],
  what: "change previews",
  of: "checked",
  locks: async ({ tx }, input) => companiesOf(tx, [await runOf(tx, input.key)]),
  schema: object({
    key: string().required().max(40),
    dropped: array(string().required().max(200)).max(50_000).default([]),
    amounts: textRecord(),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const found = await readRun(context, input.key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company))
      return fail({ code: "FORBIDDEN", what: `change this preview in ${row.company}` });
    if (row.status !== "preview") return fail({ code: "RUN_STATE", state: row.status });
    const overrides: RunOverrides = {
      dropped: [...new Set(input.dropped)].sort(),
      amounts: Object.fromEntries(
        Object.entries(input.amounts)
          .filter(([, text]) => text.trim() !== "")
          .sort(),
      ),
    };
    await aloneWith(context, definition, row.params);
    const proposed = await definition.propose(context, row.params, overrides, Number(row.id));
    if (!proposed.ok) return proposed;
    const { company: _company, yearId: _year, date: _date, ...proposal } = proposed.value;
    const id = Number(row.id);
    const free = await definition.changing?.(context, { id, params: row.params, next: proposal });
    if (free && !free.ok) return free;
    const reserved = await reserve(context, definition, id, taken(proposal, overrides));
    if (!reserved.ok) return reserved;
    await context.tx.execute(
      sql`update run set overrides = ${JSON.stringify(overrides)}::jsonb,
        proposal = ${encodeJson(proposal)}::jsonb, basis = ${basisOf(proposal)} where id = ${id}`,
    );
    // Whoever has proposed or changed it has written it: somebody else has to approve.
    await noteWriter(context, id);
    await context.tx.execute(
      sql`update document set amount = ${proposal.figures[0]?.amount ?? 0n},
        created_by = ${context.person.id} where id = ${id}`,
    );
    await context.audit({
      action: "changed",
      kind: "run",
      recordId: id,
      label: row.number,
      companyId: context.masters.companyByCode.get(row.company)!.id,
      before: row.overrides,
      after: overrides,
    });
    return ok({ id });
  },
});

export const postRun = defineUseCase({
  name: "postRun",
  kind: "write",
  rights: [
    "post.ledger",
    "post.payables",
    "post.receivables",
    "post.banks",
    "post.assets",
    "period.ledger",
  ],
  what: "post runs",
  of: "checked",
  locks: async ({ tx }, input) => companiesOf(tx, [await runOf(tx, input.key)]),
  schema: object({ key: string().required().max(40) }),
  run: async (
    context,
    { key },
  ): Promise<Result<{ id: number; number: string; journals: string[] }>> => {
    const found = await readRun(context, key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company))
      return fail({ code: "FORBIDDEN", what: `post this run in ${row.company}` });
    if (row.status !== "preview") return fail({ code: "RUN_STATE", state: row.status });
    // The ledger stands still from here on, so what is computed now is what will be posted.
    await lockChains(context.tx, [row.company]);
    const again = await definition.propose(context, row.params, row.overrides, Number(row.id));
    if (!again.ok)
      return fail({
        code: "RUN_MOVED",
        what: `The ledger has changed (${again.problems.map(describeProblem).join(" ")})`,
      });
    if (basisOf(again.value) !== row.basis)
      return fail({ code: "RUN_MOVED", what: "The ledger has changed" });
    const id = Number(row.id);
    const proposal = decodeJson<Proposal>(row.proposal);
    if (proposal.blocks?.length)
      return fail(
        ...(proposal.blocks.map(
          (what) => ({ code: "RUN_STANDS_IN_WAY", what: what.replace(/\.$/, "") }) as const,
        ) as [{ code: "RUN_STANDS_IN_WAY"; what: string }]),
      );
    const approval = await approvalOfRun(context, definition, proposal);
    const [own] = await rows(
      context.tx,
      sql`select 1 from ${writersOf(sql`${row.id}::bigint`)} z
        where z.person_id = ${context.person.id}`,
    );
    if (
      approval &&
      (own !== undefined ||
        row.proposerId === context.person.id ||
        !context.person.grants.some(
          (g) => g.role === approval.role && (g.company === null || g.company === row.company),
        ))
    )
      return fail({ code: "RUN_APPROVAL", why: approval.why });
    const posted = await postDrafts(
      context,
      proposal.drafts.map((d): JournalDraft => ({ ...d, origin: id })),
    );
    if (!posted.ok) return posted;
    for (const places of proposal.together ?? [])
      await linkJournals(
        context.tx,
        places.map((p) => posted.value[p]!.id),
      );
    const after = await definition.posted?.(context, {
      id,
      params: row.params,
      proposal,
      journals: posted.value,
      approved: approval !== null,
    });
    if (after && !after.ok) return after;
    await context.tx.execute(
      sql`update run set posted_by = ${context.person.id}, posted_at = ${context.now.toISOString()}
        where id = ${id}`,
    );
    await context.tx.execute(sql`update document set status = 'posted' where id = ${id}`);
    await context.audit({
      action: "posted",
      kind: "run",
      recordId: id,
      label: row.number,
      companyId: context.masters.companyByCode.get(row.company)!.id,
      after: { journals: posted.value.map((p) => p.number) },
    });
    return ok({ id, number: row.number, journals: posted.value.map((p) => p.number) });
  },
});

export const discardRun = defineUseCase({
  name: "discardRun",
  kind: "write",
  rights: [
    "post.ledger",
    "post.payables",
    "post.receivables",
    "post.banks",
    "post.assets",
    "period.ledger",
  ],
  what: "discard previews",
  of: "checked",
  schema: object({ key: string().required().max(40) }),
  run: async (context, { key }): Promise<Result<{ id: number }>> => {
    const found = await readRun(context, key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company))
      return fail({ code: "FORBIDDEN", what: `discard this preview in ${row.company}` });
    if (row.status !== "preview") return fail({ code: "RUN_STATE", state: row.status });
    const free = await definition.changing?.(context, {
      id: Number(row.id),
      params: row.params,
      next: null,
    });
    if (free && !free.ok) return free;
    await context.tx.execute(sql`delete from run_reservation where run_id = ${row.id}`);
    await context.tx.execute(sql`update document set status = 'discarded' where id = ${row.id}`);
    await context.audit({
      action: "discarded",
      kind: "run",
      recordId: Number(row.id),
      label: row.number,
      companyId: context.masters.companyByCode.get(row.company)!.id,
    });
    return ok({ id: Number(row.id) });
  },
});

/**
 * Undoes a posted run as a unit: every journal that came from it, those that followed by themselves
 * included.
 */
export const reverseRun = defineUseCase({
  name: "reverseRun",
  kind: "write",
  rights: [
    "reverse.ledger",
    "reverse.payables",
    "reverse.receivables",
    "reverse.banks",
    "reverse.assets",
  ],
  what: "reverse runs",
  of: "checked",
  locks: async ({ tx }, input) => companiesOf(tx, [await runOf(tx, input.key)]),
  schema: object({ key: string().required().max(40), reason: string().default("").max(500) }),
  run: async (context, input): Promise<Result<{ id: number; journals: string[] }>> => {
    const { tx, masters } = context;
    const found = await readRun(context, input.key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company))
      return fail({ code: "FORBIDDEN", what: `reverse this run in ${row.company}` });
    if (row.status !== "posted") return fail({ code: "RUN_STATE", state: row.status });
    if (input.reason.trim().length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const id = Number(row.id);
    const company = masters.companyByCode.get(row.company)!;
    const standing = await rows<{ id: bigint; companyId: number }>(
      tx,
      sql`select j.id, j.company_id as "companyId" from journal j
        where j.origin_id = ${id} and not exists (select 1 from journal r
        where r.reverses_id = j.id) order by j.id`,
    );
    const companyIds = [...new Set([company.id, ...standing.map((j) => j.companyId)])];
    await lockChains(
      tx,
      companyIds.map((c) => masters.companyById.get(c)!.code),
    );
    const plans = await reversalPlans(
      context,
      standing.map((j) => Number(j.id)),
    );
    const shut = [...plans.values()].find((p) => p.when === null);
    if (shut) return fail({ code: "NO_OPEN_PERIOD_AFTER", date: shut.posted.date });
    const dayOf = (journal: number): string => plans.get(journal)!.when!.date;
    const before = await definition.reversing?.(context, { id, params: row.params, dayOf });
    if (before && !before.ok) return before;
    const journals = [...plans.values()].map((p) => p.posted);
    const posted = await postDrafts(
      context,
      [...plans.values()].map(({ posted: j, when }): JournalDraft => ({
        ...reversalOf(j, when!.date, when!.period, masters.typeById.get(j.typeId)!.reversal),
        origin: id,
      })),
    );
    if (!posted.ok) return posted;
    // What was posted together is undone together.
    const undoing = new Map(journals.map((j, i) => [j.id, posted.value[i]!.id]));
    for (const [leader, others] of await linkedJournals(
      tx,
      journals.map((j) => j.id),
    ))
      if (others.length > 0 && others.every((o) => o.id > leader))
        await linkJournals(
          tx,
          [leader, ...others.map((o) => o.id)].map((j) => undoing.get(j)!),
        );
    if (posted.value[0])
      await definition.reversed?.(context, {
        id,
        params: row.params,
        reason: input.reason.trim(),
        reversal: { id: posted.value[0].id, date: dayOf(journals[0]!.id) },
      });
    await tx.execute(
      sql`update run set reversed_by = ${context.person.id},
        reversed_at = ${context.now.toISOString()}, reversal_reason = ${input.reason.trim()}
        where id = ${id}`,
    );
    await tx.execute(sql`update document set status = 'reversed' where id = ${id}`);
    await tx.execute(sql`delete from run_reservation where run_id = ${id}`);
    await context.audit({
      action: "reversed",
      kind: "run",
      recordId: id,
      label: row.number,
      companyId: company.id,
      after: { reason: input.reason, journals: posted.value.map((p) => p.number) },
    });
    return ok({ id, journals: posted.value.map((p) => p.number) });
  },
});
