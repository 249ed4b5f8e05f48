import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, companiesOf, lockChains } from "../access";
import { reverseJournals } from "../ledger";
import { undoEntries } from "./grniEntries";

/** Takes a receipt back that was entered wrongly. One that is invoiced, even in part, can't be. */
export const cancelReceipt = defineUseCase({
  name: "cancelReceipt",
  kind: "write",
  rights: ["reverse.payables"],
  what: "cancel receipts",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<{ journal: string | null }>> => {
    const { tx } = context;
    const [receipt] = await rows<{
      number: string;
      status: string;
      company: string;
      companyId: number;
    }>(
      tx,
      sql`select d.number, d.status, c.code as company, c.id as "companyId" from document d
        join company c on c.id = d.company_id
        where d.id = ${input.id} and d.kind = 'receipt' for update of d`,
    );
    if (!receipt) return fail({ code: "NOT_FOUND", what: "such receipt" });
    if (!context.may("reverse.payables", receipt.company))
      return fail({ code: "FORBIDDEN", what: `cancel receipts of ${receipt.company}` });
    if (receipt.status !== "posted") return fail({ code: "RUN_STATE", state: receipt.status });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    await lockChains(tx, [receipt.company]);
    const [later] = await rows<{ kind: string; number: string }>(
      tx,
      sql`select e.kind, coalesce(d.number, '') as number from grni_entry e
        join receipt_line r on r.id = e.receipt_line_id join document d on d.id = e.document_id
        where r.receipt_id = ${input.id} and e.document_id <> ${input.id} group by e.kind, d.number,
        d.id having sum(e.quantity) <> 0 or sum(e.functional) <> 0 limit 1`,
    );
    if (later)
      return fail({
        code: "IN_USE",
        what: `${receipt.number} has been ${later.kind} by ${later.number}; undo that first`,
      });
    const journals = await rows<{ id: bigint }>(
      tx,
      sql`select j.id from journal j where j.origin_id = ${input.id} and j.reverses_id is null`,
    );
    let journal: { id: number; number: string; date: string } | null = null;
    if (journals.length > 0) {
      const reversed = await reverseJournals(
        context,
        journals.map((j) => Number(j.id)),
        null,
      );
      if (!reversed.ok) return reversed;
      journal = reversed.value[0]!;
      await undoEntries(context, input.id, { id: journal.id, date: journal.date });
    }
    await tx.execute(
      sql`update order_line l set received = l.received - r.quantity from receipt_line r
        where r.receipt_id = ${input.id} and r.order_line_id = l.id`,
    );
    await tx.execute(sql`update document set status = 'cancelled' where id = ${input.id}`);
    await context.audit({
      action: "cancelled",
      kind: "receipt",
      recordId: input.id,
      label: receipt.number,
      companyId: receipt.companyId,
      after: { reason: input.reason },
    });
    return ok({ journal: journal?.number ?? null });
  },
});
