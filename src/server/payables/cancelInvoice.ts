import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase, companiesOf } from "../access";
import { linkedCorrections } from "./corrections";
import { documentLinks } from "../documents";
import { reverseJournals } from "../ledger";
import { undoMatches } from "../purchasing";
import { readStored } from "./checkInvoice";

/**
 * Cancels a posted invoice: its journals are reversed and its taxes taken back. One that is paid,
 * even in part, can't be before that is undone.
 */
export const cancelInvoice = defineUseCase({
  name: "cancelInvoice",
  kind: "write",
  rights: ["reverse.payables"],
  what: "cancel invoices",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(500),
  }),
  run: async (context, input): Promise<Result<{ id: number; journal: string; date: string }>> => {
    const { tx, masters } = context;
    const stored = await readStored(context, input.id);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
    if (!context.may("reverse.payables", stored.company))
      return fail({ code: "FORBIDDEN", what: `cancel invoices of ${stored.company}` });
    if (stored.status !== "posted" || stored.journalId === null)
      return fail({ code: "RUN_STATE", state: stored.status });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const { correctedBy } = await linkedCorrections(context, input.id);
    if (correctedBy[0])
      return fail({
        code: "IN_USE",
        what: `${correctedBy[0].number} corrects it; cancel that first`,
      });
    const reversed = await reverseJournals(context, [stored.journalId], null);
    if (!reversed.ok) return reversed;
    const { id: journalId, number: journal, date } = reversed.value[0]!;
    await documentLinks(tx, "made", [[input.id, journalId]]);
    await undoMatches(context, input.id, { id: journalId, date });
    await tx.execute(sql`update document set status = 'reversed' where id = ${input.id}`);
    await tx.execute(sql`insert into tax_record (company_id, document_id, journal_id, seq, tax_code,
      percent, rate_from, tax_date, return_line, account, owed_account, currency, base, tax,
      recoverable, functional_base, functional_tax)
      select company_id, document_id, ${journalId}, (select seq from journal
        where id = ${journalId}), tax_code, percent, rate_from, ${date}, return_line, account,
        owed_account, currency, -base, -tax, -recoverable, -functional_base, -functional_tax
        from tax_record where document_id = ${input.id} and journal_id = ${stored.journalId}`);
    await context.audit({
      action: "cancelled",
      kind: "invoice",
      recordId: input.id,
      label: stored.number ?? "",
      companyId: masters.companyByCode.get(stored.company)!.id,
      after: { reason: input.reason, journal },
    });
    return ok({ id: input.id, journal, date });
  },
});
