import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";

/** A run of direct debits in their list. */
export interface DebitRunRow {
  id: number;
  number: string;
  /** The day on which customers are debited. */
  date: CalendarDate;
  status: string;
  by: string;
  debits: number;
  sent: number;
  cleared: number;
  /** Refused by the bank, or returned. */
  back: number;
  amount: Minor;
}

/** The runs of direct debits of a company, newest first. */
export const listDebitRuns = defineUseCase({
  name: "listDebitRuns",
  kind: "read",
  rights: ["read.receivables"],
  what: "see direct debits",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<DebitRunRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<DebitRunRow, "amount"> & { amount: bigint }>(
      tx,
      sql`select d.id::int as id, d.number, d.date, d.status, p.name as by, x.debits, x.sent,
          x.cleared, x.back, coalesce(x.amount, d.amount, 0)::bigint as amount
        from run r join document d on d.id = r.id join person p on p.id = d.created_by
          cross join lateral (select count(*)::int as debits, count(y.file_id)::int as sent,
              count(*) filter (where e.status = 'cleared')::int as cleared,
              count(*) filter (where e.status = 'rejected')::int as back,
              sum(e.amount)::bigint as amount
            from direct_debit y join document e on e.id = y.receipt_id where y.run_id = r.id) x
        where r.kind = 'direct-debit' and d.company_id = ${company.id} and d.status <> 'discarded'
        order by d.id desc limit 200`,
    );
    return ok(found.map((f) => ({ ...f, amount: minor(f.amount) })));
  },
});
