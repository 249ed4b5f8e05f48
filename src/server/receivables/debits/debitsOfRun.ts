import { sql } from "drizzle-orm";
import { object, number } from "yup";
import type { DebitScheme, DebitSequence } from "@/core/receivables";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";
import { letterEmail } from "../letters/letterEmail";

/** A direct debit of a run, planned or made. */
export interface DebitRow {
  customer: string;
  name: string;
  email: string;
  mandate: string;
  scheme: DebitScheme;
  sequence: DebitSequence;
  iban: string;
  items: number;
  amount: Minor;
  /** The receipt that it became; null in a preview. */
  receipt: { id: number; number: string; status: string; reason: string } | null;
  /** When the customer was told of it, and where; null while it was not. */
  toldOn: string | null;
  toldTo: string | null;
}

export interface DebitsOfRun {
  date: CalendarDate;
  debits: DebitRow[];
  files: { id: number; name: string }[];
}

/** The direct debits that a run makes, or has made, with their files and letters. */
export const debitsOfRun = defineUseCase({
  name: "debitsOfRun",
  kind: "read",
  rights: ["read.receivables"],
  what: "see direct debits",
  of: "checked",
  schema: object({ run: number().integer().required() }),
  run: async ({ tx, may }, { run }): Promise<Result<DebitsOfRun>> => {
    const [head] = await rows<{ company: string; date: CalendarDate }>(
      tx,
      sql`select c.code as company, d.date from run r join document d on d.id = r.id
        join company c on c.id = d.company_id where r.id = ${run} and r.kind = 'direct-debit'`,
    );
    if (!head) return fail({ code: "NOT_FOUND", what: "such run of direct debits" });
    if (!may("read.receivables", head.company))
      return fail({ code: "FORBIDDEN", what: `see direct debits of ${head.company}` });
    const debits = await rows<Omit<DebitRow, "amount"> & { amount: string }>(
      tx,
      sql`select p.code as customer, p.name, ${letterEmail} as email, m.reference as mandate, m.scheme,
          coalesce(x.sequence, y->>'sequence') as sequence, m.iban, (y->>'items')::int as items,
          y->'amount'->>'$n' as amount, l.sent_at as "toldOn", l.sent_to as "toldTo",
          case when d.id is null then null else json_build_object('id', d.id, 'number', d.number,
            'status', d.status, 'reason', x.reason) end as receipt
        from run r cross join lateral jsonb_array_elements(r.detail->'debits') y
          join mandate m on m.id = (y->>'mandate')::int join partner p on p.id = m.partner_id
          left join direct_debit x on x.run_id = r.id and x.mandate_id = m.id
          left join document d on d.id = x.receipt_id
          left join customer_letter l on l.run_id = r.id and l.partner = p.code
        where r.id = ${run} order by p.code`,
    );
    const files = await rows<{ id: bigint; name: string }>(
      tx,
      sql`select id, name from payment_file where run_id = ${run} order by id`,
    );
    return ok({
      date: head.date,
      debits: debits.map((d) => ({ ...d, amount: minor(BigInt(d.amount)) })),
      files: files.map((f) => ({ id: Number(f.id), name: f.name })),
    });
  },
});
