import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { companiesOf, defineUseCase } from "../access";
import { one } from "./batchViews";
import { reverseJournals } from "./reversals";

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
