import { sql, type SQL } from "drizzle-orm";
import { number, object, string } from "yup";
import { listSchema, type ListPage } from "@/core/lists";
import type { JournalDraft } from "@/core/ledger";
import type { Ask, Explanation, ItemState } from "@/core/runs";
import { decodeJson, fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { column, queryList, type List, type ListColumns, type RowOf } from "../lists";
import { readDrafts } from "./storedRun";
import { runToSee, SEE } from "./viewRuns";

const items = (currency: string) => ({
  from: sql`run_item i`,
  id: sql`i.no`,
  currency: sql`${currency}::text`,
  columns: {
    key: column.text(sql`i.key`),
    group: column.text(sql`i.grouping`),
    label: column.text(sql`i.label`),
    amount: column.amount(sql`i.amount`),
    why: column.text(sql`i.why`),
    state: column.text<ItemState>(sql`i.state`),
    inRun: column.text(sql`case i.state when 'in' then 'yes' when 'dropped' then 'left out by hand'
      when 'waiting' then 'waits for an amount' else 'no: ' || i.left_out end`),
    leftOut: column.text(sql`i.left_out`),
    /** Whether a person may leave it out. */
    droppable: column.text<"yes" | "">(sql`case when i.droppable then 'yes' else '' end`),
    /** What can be given, as JSON: an opened item takes what is typed at once. */
    asks: column.text(sql`i.asks::text`),
    currency: column.text(sql`${currency}::text`),
  },
  sums: ["amount"] as const,
  counts: sql`i.state = 'in'`,
  order: { parts: [{ of: sql`i.no`, type: "bigint" as const }], down: false },
});
/** An item of a run as a list shows it; its identity is its place in the run. */
export type RunItemRow = RowOf<ReturnType<typeof items>["columns"]>;

const ofRun = listSchema.shape({
  run: string().required().max(40),
  /** That of the run, whatever is said. */
  company: string().default(""),
});

/** A list of what a run has: asked for by whoever may see the run, in its currency. */
const defineRunList = <C extends ListColumns>(
  name: string,
  listOf: (run: number, currency: string) => List<C>,
  within: (run: number, status: string) => readonly SQL[],
) =>
  defineUseCase({
    name,
    kind: "read",
    rights: SEE,
    what: "see runs",
    of: "checked",
    schema: ofRun,
    run: async (context, asked): Promise<Result<ListPage<RowOf<C>>>> => {
      const found = await runToSee(context, asked.run);
      if (!found.ok) return found;
      const { id, currency } = found.value;
      return queryList(context.tx, listOf(id, currency), within(id, asked.status), asked, currency);
    },
  });

export const listRunItems = defineRunList(
  "listRunItems",
  (_run, currency) => items(currency),
  (run, status) => [
    sql`i.run_id = ${run}`,
    ...(status === "all" ? [] : [sql`i.state = ${status}`]),
  ],
);

const groups = (run: number, currency: string) =>
  ({
    from: sql`(select min(no) as no, grouping, count(*) filter (where state = 'in') as items,
      sum(amount) filter (where state = 'in') as amount,
      count(*) filter (where state <> 'in') as out,
      sum(amount) filter (where state <> 'in') as amount_out
      from run_item where run_id = ${run} group by grouping) g`,
    id: sql`g.no`,
    currency: sql`${currency}::text`,
    columns: {
      group: column.text(sql`g.grouping`),
      items: column.count(sql`g.items`),
      amount: column.amount(sql`g.amount`),
      out: column.count(sql`g.out`),
      amountOut: column.amount(sql`g.amount_out`),
    },
    sums: ["amount", "amountOut"],
    counts: sql`true`,
    order: { parts: [{ of: sql`g.no`, type: "bigint" }], down: false },
  }) as const;
/** What the items of a group come to, apart for those in the run and those left out. */
export type RunGroupRow = RowOf<ReturnType<typeof groups>["columns"]>;

export const listRunGroups = defineRunList("listRunGroups", groups, () => [sql`true`]);

/** An item that is looked at: how its figure came about, and what is asked for. */
export interface OpenedItem {
  key: string;
  label: string;
  why: string;
  state: ItemState;
  leftOut: string | null;
  droppable: boolean;
  asks: Ask[];
  explanation: Explanation;
  /** The document that it is about, where its kind says so (`detail.document`). */
  document: { id: number; kind: string; name: string } | null;
}

export const getRunItem = defineUseCase({
  name: "getRunItem",
  kind: "read",
  rights: SEE,
  what: "see runs",
  of: "checked",
  schema: object({ run: string().required().max(40), no: number().integer().min(1).required() }),
  run: async (context, input): Promise<Result<OpenedItem>> => {
    const found = await runToSee(context, input.run);
    if (!found.ok) return found;
    const { id, definition, params } = found.value;
    const [item] = await rows<Omit<OpenedItem, "explanation" | "asks"> & Texts>(
      context.tx,
      sql`select key, label, why, state, left_out as "leftOut", droppable,
        coalesce(asks, '[]')::text as asks, explanation::text as explanation,
        (select json_build_object('id', d.id, 'kind', d.kind, 'name', coalesce(d.number, d.title))
          from document d where d.id = (detail->>'document')::bigint) as document
        from run_item where run_id = ${id} and no = ${input.no}`,
    );
    if (!item) return fail({ code: "NOT_FOUND", what: `item ${input.no} of this run` });
    const kept = item.explanation && decodeJson<Explanation>(item.explanation);
    const explanation = kept || (await definition.parts?.explain(context, params, item.key, id));
    return ok({
      ...item,
      asks: decodeJson<Ask[]>(item.asks),
      explanation: explanation ?? { title: item.label, steps: [] },
    });
  },
});
interface Texts {
  asks: string;
  explanation: string | null;
}

/** So many journals of a preview are shown at once. */
const JOURNALS = 50;

/** The journals that a run would post, from a place on. */
export const listRunDrafts = defineUseCase({
  name: "listRunDrafts",
  kind: "read",
  rights: SEE,
  what: "see runs",
  of: "checked",
  schema: object({
    run: string().required().max(40),
    from: number().integer().min(0).default(0),
  }),
  run: async (context, { run, from }): Promise<Result<{ drafts: JournalDraft[] }>> => {
    const found = await runToSee(context, run);
    if (!found.ok) return found;
    const page = { from, count: JOURNALS };
    return ok({ drafts: await readDrafts(context.tx, found.value.id, page) });
  },
});
