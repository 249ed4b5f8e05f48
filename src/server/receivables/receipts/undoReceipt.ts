import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { companiesOf, defineUseCase } from "../../access";
import { rows } from "../../db";
import { undonePayments } from "../../banks";
import { againstReason } from "../../documents";
import { dayOfReversal, reverseJournals } from "../../ledger";
import { releaseItems } from "../../openItems";

/**
 * Takes a receipt back that was recorded before the bank had it: what it paid is open again. A direct
 * debit that has gone to the bank counts as refused by it. Once the bank's line has taken its money
 * it is undone with that line; one that came of a line, by the run that posted it.
 */
export const undoReceipt = defineUseCase({
  name: "undoReceipt",
  kind: "write",
  rights: ["reverse.receivables"],
  what: "undo receipts",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().max(500).default(""),
  }),
  run: async (context, { id, reason }): Promise<Result<{ journal: string }>> => {
    const { tx, masters } = context;
    const [found] = await rows<{
      company: string;
      number: string;
      status: string;
      date: string;
      journal: bigint;
      statement: string | null;
      taken: boolean;
    }>(
      tx,
      sql`select c.code as company, d.number, d.status, d.date, p.journal_id as journal,
          (select s.number from statement_line l join bank_statement s on s.id = l.statement_id
            where l.journal_id = p.journal_id) as statement,
          exists (select 1 from open_item i where i.journal_id = p.journal_id
            and i.area = 'transit' and i.left_amount <> i.amount) as taken
        from receipt p join document d on d.id = p.document_id
          join company c on c.id = d.company_id where d.id = ${id}::bigint`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such receipt" });
    const refuse = (what: string) => fail({ code: "IN_USE" as const, what });
    if (!context.may("reverse.receivables", found.company))
      return fail({ code: "FORBIDDEN", what: `undo receipts of ${found.company}` });
    if (found.status === "reversed" || found.status === "rejected")
      return refuse(`${found.number} is undone already`);
    if (found.statement !== null)
      return refuse(
        `${found.number} is a line of ${found.statement}: reverse the run that posted the line`,
      );
    if (found.taken)
      return refuse(`${found.number} is on a bank statement: reverse the run of its line first`);
    const unsaid = await againstReason(context, "payments", reason, "reason");
    if (unsaid) return fail(unsaid);
    const journal = Number(found.journal);
    const day = await dayOfReversal(context, journal);
    if (day === null) return fail({ code: "NO_OPEN_PERIOD_AFTER", date: found.date });
    await releaseItems(context, [{ id: journal, date: day }]);
    const reversed = await reverseJournals(context, [journal], day);
    if (!reversed.ok) return reversed;
    const undone = found.status === "sent" ? "rejected" : "reversed";
    await undonePayments(context, [id], undone, reason);
    await context.audit({
      action: undone,
      kind: "receipt",
      recordId: id,
      label: found.number,
      companyId: masters.companyByCode.get(found.company)!.id,
      after: { reason, journal: reversed.value[0]!.number },
    });
    return ok({ journal: reversed.value[0]!.number });
  },
});
