import { sql } from "drizzle-orm";
import { number, object } from "yup";
import {
  holdAgainst,
  journalInput,
  readControls,
  type BatchInput,
  type ControlLine,
  type JournalInput,
  type Total,
} from "@/core/ledger";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { listSchema, type ListPage } from "@/core/lists";
import { arrayOf, rows } from "../db";
import { documentList, queryDocuments } from "../documents";
import { column, type RowOf } from "../lists";
import { defineUseCase, type Context } from "../access";
import { ruleFor, whyOf } from "./approvalRules";
import { readEntries } from "./entries";
import type { Kept } from "../keptDocuments";

type StoredTotal = { currency: string; amount: string };

const totals = (stored: readonly StoredTotal[]): Total[] =>
  stored.map((t) => ({ currency: t.currency, amount: minor(BigInt(t.amount)) }));

const BATCH_LIST = documentList({
  kinds: ["batch"],
  joins: sql`join batch b on b.document_id = d.id join person p on p.id = d.created_by`,
  columns: {
    name: column.text(sql`d.title`),
    status: column.state(sql`d.status`),
    period: column.text(sql`b.content->>'period'`),
    journals: column.count(sql`select (select count(*) from journal_draft x
        where x.batch_id = d.id) + (select count(*) from document_link l
        where l.from_id = d.id and l.kind = 'batch')`),
    by: column.text(sql`p.name`),
  },
  sums: [],
  counts: sql`true`,
});

/** A batch, with what its papers add up to by currency, and what is entered. */
export type BatchRow = RowOf<typeof BATCH_LIST.columns> & { lines: ControlLine[] };

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

export type BatchView = BatchRow & {
  company: string;
  description: string;
  waived: string;
  /** Which version it is: what is changed rests on it. */
  version: number;
  items: BatchJournal[];
  /** Who has to approve it, in a sentence; null where nobody has to. */
  approval: string | null;
};

export interface Row extends Kept<BatchInput> {
  id: bigint;
  name: string;
  entered: StoredTotal[];
  waived: string;
  by: string;
  journals: number;
  sums: StoredTotal[] | null;
}

const readBatches = (
  context: Context,
  where: ReturnType<typeof sql>,
  lock = false,
): Promise<Row[]> =>
  rows<Row>(
    context.tx,
    sql`select d.id, d.title as name, d.status, c.code as company, b.content, b.version,
      b.updated_by as "updatedBy", b.updated_at as "updatedAt", u.name as "updatedByName",
      b.entered, case when b.waived_by is null then ''
      else w.name || ': ' || b.waived_reason end as waived, p.name as by,
          (select count(*)::int from journal_draft x
            where x.batch_id = d.id) + (select count(*)::int from document_link l
            where l.from_id = d.id and l.kind = 'batch') as journals,
          (select jsonb_agg(jsonb_build_object('currency', s.currency, 'amount', s.amount::text))
            from (select q.currency, sum(q.amount) as amount from journal_draft x
            join document q on q.id = x.document_id where x.batch_id = d.id group by 1) s) as sums
        from document d join batch b on b.document_id = d.id join company c on c.id = d.company_id
          join person p on p.id = d.created_by join person u on u.id = b.updated_by
          left join person w on w.id = b.waived_by
          where ${where} order by d.id desc ${lock ? sql`for update of d` : sql``}`,
  );

export const shown = (r: Row): BatchRow => ({
  id: Number(r.id),
  name: r.name,
  status: r.status,
  period: r.content.period,
  by: r.by,
  journals: r.journals,
  lines: holdAgainst(
    readControls(r.content.controls).totals,
    totals(r.status === "posted" || r.status === "reversed" ? r.entered : (r.sums ?? [])),
  ),
});

/** Batches of a company, newest first, each with what its papers add up to and what is entered. */
export const listBatches = defineUseCase({
  name: "listBatches",
  kind: "read",
  rights: ["read.ledger", "prepare.ledger"],
  what: "see batches",
  company: (i) => i.company,
  schema: listSchema,
  run: async (context, input): Promise<Result<ListPage<BatchRow>>> => {
    const page = await queryDocuments(context, BATCH_LIST, input);
    if (!page.ok) return page;
    const ids = page.value.rows.map((r) => r.id);
    const found = await readBatches(context, sql`d.id = any(${arrayOf(ids)}::bigint[])`);
    const byId = new Map(found.map((r) => [Number(r.id), shown(r)]));
    return ok({ ...page.value, rows: ids.map((id) => byId.get(id)!) });
  },
});

export const readBatch = async (
  context: Context,
  id: number,
  lock = true,
): Promise<Row | undefined> => (await readBatches(context, sql`d.id = ${id}`, lock))[0];

export async function one(context: Context, id: number, lock = false): Promise<Result<Row>> {
  const row = await readBatch(context, id, lock);
  return row ? ok(row) : fail({ code: "NOT_FOUND", what: "such batch" });
}

export const notOpen = (status: string) =>
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
    const { company, content, waived, status, version } = row.value;
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
      description: content.description,
      waived,
      version,
      approval: rule ? whyOf(rule) : null,
      items: items.map((i) => ({ ...i, id: Number(i.id), amount: minor(i.amount ?? 0n) })),
    });
  },
});
