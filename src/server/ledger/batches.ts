import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import {
  controlProblems,
  holdAgainst,
  journalInput,
  type ControlLine,
  type ApprovalRule,
  type JournalInput,
  type Total,
} from "@/core/ledger";
import { periodKey, periodName } from "@/core/organisation";
import {
  fail,
  isCurrency,
  minor,
  ok,
  readAmount,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context, companiesOf } from "../access";
import { calendarOf } from "../organisation/periods";
import { ruleFor, whyOf } from "./approvalRules";
import { postEntries, readEntries } from "./drafts";
import { reverseJournals } from "./reversals";

type StoredTotal = { currency: string; amount: string };
const totals = (stored: readonly StoredTotal[]): Total[] =>
  stored.map((t) => ({ currency: t.currency, amount: minor(BigInt(t.amount)) }));
const stored = (list: readonly Total[]): StoredTotal[] =>
  list.map((t) => ({ currency: t.currency, amount: String(t.amount) }));

export interface BatchRow {
  id: number;
  name: string;
  status: string;
  period: string;
  by: string;
  journals: number;
  lines: ControlLine[];
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}
export interface BatchJournal {
  id: number;
  number: string | null;
  title: string;
  date: string | null;
  status: string;
  amount: Minor;
  currency: string;
  by: string;
}
export interface BatchView extends BatchRow {
  company: string;
  description: string;
  waived: string;
  /** Which version it is: what is changed rests on it. */
  version: number;
  items: BatchJournal[];
  /** Who has to approve it, in a sentence; null where nobody has to. */
  approval: string | null;
}

interface Row {
  id: bigint;
  name: string;
  status: string;
  company: string;
  period: string;
  description: string;
  controls: StoredTotal[];
  entered: StoredTotal[];
  waived: string;
  by: string;
  version: number;
  journals: number;
  sums: StoredTotal[] | null;
  of?: number;
}

const readBatches = (
  context: Context,
  where: ReturnType<typeof sql>,
  lock = false,
): Promise<Row[]> =>
  rows<Row>(
    context.tx,
    sql`select d.id, d.title as name, d.status, c.code as company, b.period, b.description, b.version,
      b.controls, b.entered, case when b.waived_by is null then ''
      else w.name || ': ' || b.waived_reason end as waived, p.name as by,
          (select count(*)::int from journal_draft x
            where x.batch_id = d.id) + (select count(*)::int from document_link l
            where l.from_id = d.id and l.kind = 'batch') as journals,
          (select jsonb_agg(jsonb_build_object('currency', s.currency, 'amount', s.amount::text))
            from (select q.currency, sum(q.amount) as amount from journal_draft x
            join document q on q.id = x.document_id where x.batch_id = d.id group by 1) s) as sums
          ${lock ? sql`` : sql`, count(*) over ()::int as "of"`}
        from document d join batch b on b.document_id = d.id join company c on c.id = d.company_id
          join person p on p.id = d.created_by left join person w on w.id = b.waived_by
          where ${where} order by d.id desc limit 300 ${lock ? sql`for update of d` : sql``}`,
  );

const shown = (r: Row): BatchRow => ({
  id: Number(r.id),
  name: r.name,
  status: r.status,
  period: r.period,
  by: r.by,
  journals: r.journals,
  of: r.of ?? 1,
  lines: holdAgainst(
    totals(r.controls),
    totals(r.status === "posted" || r.status === "reversed" ? r.entered : (r.sums ?? [])),
  ),
});

export const listBatches = defineUseCase({
  name: "listBatches",
  kind: "read",
  rights: ["read.ledger", "prepare.ledger"],
  what: "see batches",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async (context, input): Promise<Result<BatchRow[]>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    return ok((await readBatches(context, sql`d.company_id = ${company.id}`)).map(shown));
  },
});

async function one(context: Context, id: number, lock = false): Promise<Result<Row>> {
  const [row] = await readBatches(context, sql`d.id = ${id}`, lock);
  return row ? ok(row) : fail({ code: "NOT_FOUND", what: "such batch" });
}

const notOpen = (status: string) =>
  fail(
    status === "waiting"
      ? { code: "IN_USE", what: "The batch waits for approval. Withdraw it to go on with it" }
      : { code: "BATCH_POSTED" },
  );

export const getBatch = defineUseCase({
  name: "getBatch",
  kind: "read",
  rights: ["read.ledger", "prepare.ledger"],
  what: "see batches",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<BatchView>> => {
    const row = await one(context, input.id);
    if (!row.ok) return row;
    if (!context.may("read.ledger", row.value.company))
      return fail({ code: "FORBIDDEN", what: `see batches of ${row.value.company}` });
    const items = await rows<
      Omit<BatchJournal, "id" | "amount"> & { id: bigint; amount: bigint | null }
    >(
      context.tx,
      sql`select d.id, d.number, d.title, d.date, d.status, d.amount, d.currency, p.name as by
        from document d join person p on p.id = d.created_by
          where d.id in (select document_id from journal_draft where batch_id = ${input.id}
            union all select to_id from document_link
            where from_id = ${input.id} and kind = 'batch') order by d.id`,
    );
    const { company, description, waived, status, version } = row.value;
    const drafts =
      status === "draft"
        ? await rows<{ content: JournalInput }>(
            context.tx,
            sql`select content from journal_draft where batch_id = ${input.id}`,
          )
        : [];
    const entries =
      drafts.length > 0
        ? (
            await readEntries(
              context,
              drafts.map((d) => journalInput(d.content)),
            )
          ).entries
        : [];
    const rule = (
      await ruleFor(
        context,
        entries.map((e) => e.reading.entry),
      )
    ).find((r) => r !== undefined);
    return ok({
      ...shown(row.value),
      company,
      description,
      waived,
      version,
      approval: rule ? whyOf(rule) : null,
      items: items.map((i) => ({ ...i, id: Number(i.id), amount: minor(i.amount ?? 0n) })),
    });
  },
});

/** Makes a batch, or changes one that is not posted. Its name is proposed where none is given. */
export const saveBatch = defineUseCase({
  name: "saveBatch",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "prepare batches",
  company: (i) => i.company,
  schema: object({
    id: number().integer(),
    /** Of the one that is changed. */
    version: number().integer(),
    company: string().required(),
    name: string().trim().max(100).default(""),
    period: string().required("A period is needed"),
    description: string().max(500).default(""),
    controls: array(object({ currency: string().required(), amount: string().default("") }))
      .max(20)
      .default([]),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters, person, now, audit } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const { periods } = await calendarOf(tx, masters, company.id);
    const period = periods.find((p) => periodKey(p) === input.period);
    if (!period)
      return fail({
        code: "PERIOD_UNKNOWN",
        period: input.period,
        company: company.name,
        field: "period",
      });
    const problems: Found[] = [];
    const controls = input.controls
      .filter((c) => c.amount.trim() !== "")
      .flatMap((c): Total[] => {
        if (!isCurrency(c.currency))
          return (
            void problems.push({
              code: "CURRENCY_UNKNOWN",
              currency: c.currency,
              field: "controls",
            }),
            []
          );
        const reading = readAmount(c.amount, c.currency);
        if (reading.ok) return [{ currency: c.currency, amount: reading.amount }];
        problems.push({ code: "AMOUNT_NOT_NUMBER", text: c.amount, field: "controls" });
        return [];
      });
    if (problems.length > 0) return fail(...problems);
    const content = JSON.stringify(stored(controls));
    if (input.id !== undefined) {
      const before = await one(context, input.id, true);
      if (!before.ok) return before;
      if (!context.may("prepare.ledger", before.value.company))
        return fail({ code: "FORBIDDEN", what: `prepare batches of ${before.value.company}` });
      if (before.value.company !== company.code)
        return fail({
          code: "INVALID",
          what: `The batch belongs to ${before.value.company}`,
          field: "company",
        });
      if (before.value.status !== "draft") return notOpen(before.value.status);
      if (before.value.version !== input.version)
        return fail({ code: "STALE", by: "Somebody else", at: "" });
      await tx.execute(
        sql`update document set title = ${input.name || before.value.name}, date = ${period.end}
          where id = ${input.id}`,
      );
      await tx.execute(
        sql`update batch set period = ${input.period}, description = ${input.description},
          controls = ${content}::jsonb, version = version + 1 where document_id = ${input.id}`,
      );
      await audit({
        action: "changed",
        kind: "batch",
        recordId: input.id,
        label: input.name || before.value.name,
        companyId: company.id,
        before: { period: before.value.period, controls: before.value.controls },
        after: input,
      });
      return ok({ id: input.id });
    }
    const [count] = await rows<{ n: number }>(
      tx,
      sql`select count(*)::int as n from document
        where kind = 'batch' and company_id = ${company.id} and date = ${period.end}`,
    );
    const name = input.name || `${periodName(period)}, batch ${count!.n + 1}`;
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into document (kind, company_id, date, amount, currency, title, search, created_by,
        created_at, status) values ('batch', ${company.id}, ${period.end},
        ${controls[0]?.amount ?? 0n}, ${company.currency}, ${name},
        ${`batch ${name} ${input.description}`.toLowerCase().slice(0, 500)}, ${person.id},
        ${now.toISOString()}, 'draft') returning id`,
    );
    await tx.execute(
      sql`insert into batch (document_id, period, description, controls)
        values (${made!.id}, ${input.period}, ${input.description}, ${content}::jsonb)`,
    );
    await audit({
      action: "added",
      kind: "batch",
      recordId: String(made!.id),
      label: name,
      companyId: company.id,
      after: input,
    });
    return ok({ id: Number(made!.id) });
  },
});

/** Puts a draft into a batch of its company, or takes it out. */
export const moveToBatch = defineUseCase({
  name: "moveToBatch",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "move journals between batches",
  of: "checked",
  schema: object({
    journal: number().integer().required(),
    batch: number().integer().nullable().default(null),
  }),
  run: async (context, input) => {
    const [draft] = await rows<{ company: string; title: string; from: string | null }>(
      context.tx,
      sql`select c.code as company, d.title, (select b.status from document b
        where b.id = x.batch_id) as "from" from journal_draft x
        join document d on d.id = x.document_id join company c on c.id = d.company_id
        where x.document_id = ${input.journal}`,
    );
    if (!draft) return fail({ code: "NOT_FOUND", what: "such draft" });
    if (!context.may("prepare.ledger", draft.company))
      return fail({ code: "FORBIDDEN", what: `prepare journals in ${draft.company}` });
    if (draft.from !== null && draft.from !== "draft") return notOpen(draft.from);
    if (input.batch !== null) {
      const batch = await one(context, input.batch, true);
      if (!batch.ok) return batch;
      if (batch.value.status !== "draft") return notOpen(batch.value.status);
      if (batch.value.company !== draft.company)
        return fail({
          code: "INVALID",
          what: "The batch belongs to another company",
          field: "batch",
        });
    }
    await context.tx.execute(
      sql`update journal_draft set batch_id = ${input.batch} where document_id = ${input.journal}`,
    );
    await context.audit({
      action: input.batch === null ? "taken out of its batch" : "put into a batch",
      kind: "journal",
      recordId: input.journal,
      label: draft.title,
      after: { batch: input.batch },
    });
    return ok({});
  },
});

type Ready = Result<{
  batch: Row;
  drafts: { id: number; content: JournalInput }[];
  waived: boolean;
}>;

/**
 * A batch with its drafts, ready to go: not empty, and agreeing with the papers, or with a reason
 * why not from somebody who may give one.
 */
async function readyBatch(
  context: Context,
  id: number,
  waive: string,
  status: string,
): Promise<Ready> {
  const batch = await one(context, id, true);
  if (!batch.ok) return batch;
  if (batch.value.status !== status) return notOpen(batch.value.status);
  const drafts = await rows<{ id: bigint; content: JournalInput }>(
    context.tx,
    sql`select document_id as id, content from journal_draft where batch_id = ${id}
      order by document_id for update`,
  );
  if (drafts.length === 0) return fail({ code: "BATCH_EMPTY" });
  const differing = controlProblems(shown(batch.value).lines);
  if (differing.length > 0 && batch.value.waived === "") {
    if (waive === "") return fail(...differing);
    if (!context.may("post.againstControl", batch.value.company))
      return fail({ code: "FORBIDDEN", what: "waive a difference to the control total" });
    if (waive.length < 5) return fail({ code: "REASON_REQUIRED", field: "waive" });
    await context.tx.execute(
      sql`update batch set waived_by = ${context.person.id}, waived_reason = ${waive}
        where document_id = ${id}`,
    );
  }
  return ok({
    batch: batch.value,
    drafts: drafts.map((d) => ({ id: Number(d.id), content: journalInput(d.content) })),
    waived: differing.length > 0,
  });
}

/**
 * What sending a batch for approval rests on: it is ready, nothing stands against its journals, and
 * the first rule that one of them falls under.
 */
export async function batchForApproval(
  context: Context,
  id: number,
  waive: string,
): Promise<Result<{ rule: ApprovalRule | undefined }>> {
  const ready = await readyBatch(context, id, waive, "draft");
  if (!ready.ok) return ready;
  if (!context.may("prepare.ledger", ready.value.batch.company))
    return fail({ code: "FORBIDDEN", what: `prepare journals in ${ready.value.batch.company}` });
  const { entries } = await readEntries(
    context,
    ready.value.drafts.map((d) => d.content),
  );
  const problems = entries.flatMap((e, journal) =>
    e.check.problems.filter((p) => p.code !== "FORBIDDEN").map((p) => ({ ...p, journal })),
  );
  if (problems.length > 0) return fail(...problems);
  return ok({
    rule: (
      await ruleFor(
        context,
        entries.map((e) => e.reading.entry),
      )
    ).find((r) => r !== undefined),
  });
}

/** Posts every journal of a batch, or none. */
export async function postWholeBatch(
  context: Context,
  id: number,
  options: { waive?: string; approved?: boolean } = {},
): Promise<Result<{ name: string; journals: string[] }>> {
  const { tx } = context;
  const ready = await readyBatch(
    context,
    id,
    options.waive ?? "",
    options.approved ? "waiting" : "draft",
  );
  if (!ready.ok) return ready;
  const { batch, drafts, waived } = ready.value;
  const posted = await postEntries(
    context,
    drafts.map((d) => d.content),
    drafts.map((d) => d.id),
    options.approved ? { approved: true } : {},
  );
  if (!posted.ok) return posted;
  await tx.execute(
    sql`insert into document_link (from_id, to_id, kind) select ${id}, x.id, 'batch'
      from unnest(${arrayOf(posted.value.map((p) => p.id))}::bigint[]) as x(id)`,
  );
  await tx.execute(
    sql`update batch set entered = ${JSON.stringify(batch.sums ?? [])}::jsonb where document_id = ${id}`,
  );
  await tx.execute(sql`update document set status = 'posted' where id = ${id}`);
  const journals = posted.value.map((p) => p.number);
  await context.audit({
    action: waived ? "posted, difference waived" : "posted",
    kind: "batch",
    recordId: id,
    label: batch.name,
    companyId: context.masters.companyByCode.get(batch.company)!.id,
    after: { journals },
  });
  return ok({ name: batch.name, journals });
}

/**
 * Posts every journal of a batch, or none. Refused while the control totals differ, unless somebody
 * who may says why it is right so.
 */
export const postBatch = defineUseCase({
  name: "postBatch",
  kind: "write",
  rights: ["post.ledger"],
  what: "post batches",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    waive: string().trim().default("").max(500),
  }),
  run: async (context, input): Promise<Result<{ journals: string[] }>> => {
    const batch = await one(context, input.id);
    if (!batch.ok) return batch;
    if (!context.may("post.ledger", batch.value.company))
      return fail({ code: "FORBIDDEN", what: `post journals in ${batch.value.company}` });
    const posted = await postWholeBatch(context, input.id, { waive: input.waive });
    return posted.ok ? ok({ journals: posted.value.journals }) : posted;
  },
});

/** Reverses every journal of a posted batch that stands, all or none. */
export const reverseBatch = defineUseCase({
  name: "reverseBatch",
  kind: "write",
  rights: ["reverse.ledger"],
  what: "reverse batches",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(500),
  }),
  run: async (context, input): Promise<Result<{ journals: string[] }>> => {
    const batch = await one(context, input.id, true);
    if (!batch.ok) return batch;
    if (!context.may("reverse.ledger", batch.value.company))
      return fail({ code: "FORBIDDEN", what: `reverse journals in ${batch.value.company}` });
    if (batch.value.status !== "posted")
      return fail({ code: "RUN_STATE", state: batch.value.status });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const standing = await rows<{ id: bigint }>(
      context.tx,
      sql`select l.to_id as id from document_link l
        where l.from_id = ${input.id} and l.kind = 'batch' and not exists (select 1 from journal r
        where r.reverses_id = l.to_id) order by l.to_id`,
    );
    const reversed = await reverseJournals(
      context,
      standing.map((s) => Number(s.id)),
      null,
    );
    if (!reversed.ok) return reversed;
    await context.tx.execute(sql`update document set status = 'reversed' where id = ${input.id}`);
    await context.audit({
      action: "reversed",
      kind: "batch",
      recordId: input.id,
      label: batch.value.name,
      companyId: context.masters.companyByCode.get(batch.value.company)!.id,
      after: { reason: input.reason, journals: reversed.value.map((r) => r.number) },
    });
    return ok({ journals: reversed.value.map((r) => r.number) });
  },
});

/** A batch that holds nothing yet can go; its drafts stay as they are, without a batch. */
export const deleteBatch = defineUseCase({
  name: "deleteBatch",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "delete batches",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input) => {
    const batch = await one(context, input.id, true);
    if (!batch.ok) return batch;
    if (!context.may("prepare.ledger", batch.value.company))
      return fail({ code: "FORBIDDEN", what: `delete batches in ${batch.value.company}` });
    if (batch.value.status !== "draft") return fail({ code: "BATCH_POSTED" });
    await context.tx.execute(
      sql`update journal_draft set batch_id = null where batch_id = ${input.id}`,
    );
    await context.tx.execute(sql`delete from document where id = ${input.id}`);
    await context.audit({
      action: "deleted",
      kind: "batch",
      recordId: input.id,
      label: batch.value.name,
    });
    return ok({});
  },
});
