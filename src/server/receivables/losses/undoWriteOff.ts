import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { againstReason } from "../../documents";
import { reversalPlans, reverseJournals } from "../../ledger";
import { releaseItems } from "../../openItems";

/** Takes a write-off back: its items are open again, and what was corrected of taxes is declared. */
export const undoWriteOff = defineUseCase({
  name: "undoWriteOff",
  kind: "write",
  rights: ["reverse.receivables"],
  what: "undo write-offs",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.journal]),
  schema: object({
    journal: number().integer().required(),
    reason: string().trim().max(500).default(""),
  }),
  run: async (context, { journal, reason }): Promise<Result<{ journal: string }>> => {
    const { tx, masters } = context;
    const [found] = await rows<{ company: string; number: string; undone: boolean }>(
      tx,
      sql`select c.code as company, j.number,
          exists (select 1 from journal r where r.reverses_id = j.id) as undone
        from write_off w join journal j on j.id = w.journal_id join company c on c.id = w.company_id
        where w.journal_id = ${journal}::bigint`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such write-off" });
    if (!context.may("reverse.receivables", found.company))
      return fail({ code: "FORBIDDEN", what: `undo write-offs of ${found.company}` });
    if (found.undone) return fail({ code: "IN_USE", what: `${found.number} is undone already` });
    const unsaid = await againstReason(context, "writeOffs", reason, "reason");
    if (unsaid) return fail(unsaid);
    const day = await dayOf(context, journal);
    if (!day.ok) return day;
    await releaseItems(context, [{ id: journal, date: day.value }]);
    const reversed = await reverseJournals(context, [journal], day.value);
    if (!reversed.ok) return reversed;
    await context.audit({
      action: "undone",
      kind: "open items",
      recordId: journal,
      label: found.number,
      companyId: masters.companyByCode.get(found.company)!.id,
      after: { reason, journal: reversed.value[0]!.number },
    });
    return ok({ journal: reversed.value[0]!.number });
  },
});

async function dayOf(context: Context, journal: number): Promise<Result<CalendarDate>> {
  const plan = (await reversalPlans(context, [journal])).get(journal)!;
  return plan.when === null
    ? fail({ code: "NO_OPEN_PERIOD_AFTER", date: plan.posted.date })
    : ok(plan.when.date);
}

export interface WriteOffRow {
  journal: { id: number; number: string };
  customer: string;
  name: string;
  date: CalendarDate;
  reason: string;
  by: string;
  amount: Minor;
  taxCorrected: boolean;
  undone: boolean;
}

/** What was written off in a company, newest first. */
export const listWriteOffs = defineUseCase({
  name: "listWriteOffs",
  kind: "read",
  rights: ["read.receivables"],
  what: "see write-offs",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<WriteOffRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<WriteOffRow, "amount"> & { amount: bigint }>(
      tx,
      sql`select json_build_object('id', j.id, 'number', j.number) as journal,
          w.partner as customer, p.name, w.date, w.reason, m.name as by, w.functional as amount,
          w.tax_corrected as "taxCorrected",
          exists (select 1 from journal r where r.reverses_id = j.id) as undone
        from write_off w join journal j on j.id = w.journal_id join partner p on p.code = w.partner
          join person m on m.id = w.made_by
        where w.company_id = ${company.id} order by w.journal_id desc limit 500`,
    );
    return ok(found.map((f) => ({ ...f, amount: minor(f.amount) })));
  },
});
