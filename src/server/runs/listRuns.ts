import { sql } from "drizzle-orm";
import { listSchema } from "@/core/lists";
import { KINDS_OF_RUN } from "@/core/runs";
import { defineUseCase } from "../access";
import { documentList, queryDocuments } from "../documents";
import { column, type RowOf } from "../lists";
import { SEE } from "./viewRuns";

/** What people call the kind of a run. */
const KIND_NAME = sql.raw(
  `case r.kind ${Object.entries(KINDS_OF_RUN)
    .map(([id, { name }]) => `when '${id}' then '${name}'`)
    .join(" ")} else r.kind end`,
);

const RUN_LIST = documentList({
  kinds: ["run"],
  joins: sql`join run r on r.id = d.id join person p on p.id = d.created_by
    join company c on c.id = d.company_id`,
  columns: {
    number: column.text(sql`d.number`),
    status: column.state(sql`d.status`),
    kind: column.text(sql`${KIND_NAME}`),
    kindId: column.text(sql`r.kind`),
    title: column.text(sql`d.title`),
    company: column.text(sql`c.code`),
    proposedBy: column.text(sql`p.name`),
    proposedAt: column.instant(sql`r.proposed_at`),
    journals: column.count(sql`select count(*) from journal j where j.origin_id = d.id`),
    amount: column.amount(sql`d.amount`),
    currency: column.text(sql`d.currency`),
  },
  sums: [],
  counts: sql`d.status = 'posted'`,
});
export type RunRow = RowOf<typeof RUN_LIST.columns>;

export const listRuns = defineUseCase({
  name: "listRuns",
  kind: "read",
  rights: SEE,
  what: "see runs",
  company: (i) => i.company,
  schema: listSchema,
  run: (context, input) => queryDocuments(context, RUN_LIST, input),
});
