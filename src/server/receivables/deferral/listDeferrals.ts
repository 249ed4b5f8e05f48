import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { DeferralMethod } from "@/core/receivables";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";
import { balanceOn } from "../../openItems";
import { readDeferral } from "./policy";

/** Revenue that was invoiced ahead, in the company's currency. */
export interface DeferralRow {
  id: number;
  document: { id: number; number: string };
  date: CalendarDate;
  customer: string;
  line: number;
  account: string;
  description: string;
  from: CalendarDate;
  to: CalendarDate;
  method: DeferralMethod;
  amount: Minor;
  released: Minor;
}

export interface Deferrals {
  rows: DeferralRow[];
  /** The account on which it waits, and what the ledger has there; null where none is set. */
  account: { number: string; balance: Minor } | null;
}

/** What is deferred in a company and not earned as a whole yet, on a day. */
export const listDeferrals = defineUseCase({
  name: "listDeferrals",
  kind: "read",
  rights: ["read.receivables"],
  what: "see deferred revenue",
  company: (i) => i.company,
  schema: object({ company: string().required(), on: string().required() }),
  run: async (context, { company: code, on }): Promise<Result<Deferrals>> => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(code);
    if (!company) return fail({ code: "COMPANY_UNKNOWN", company: code, field: "company" });
    if (!isCalendarDate(on)) return fail({ code: "DATE_INVALID", text: on, field: "on" });
    const found = await rows<DeferralRow>(
      tx,
      sql`select f.id::int as id, json_build_object('id', d.id, 'number', d.number) as document,
          d.date, p.code || ' ' || p.name as customer, f.line, f.coding->>'account' as account,
          f.coding->>'description' as description, f.first_day as "from", f.last_day as "to",
          f.method, f.amount, coalesce(r.released, 0)::bigint as released
        from deferral f join document d on d.id = f.document_id and d.status = 'posted'
          join sale s on s.document_id = d.id join partner p on p.id = s.partner_id
          left join lateral (select sum(x.amount) as released from deferral_release x
            join document e on e.id = x.run_id and e.date <= ${on}
            where x.deferral_id = f.id) r on true
        where f.company_id = ${company.id} and d.date <= ${on}
          and f.amount <> coalesce(r.released, 0)
        order by f.last_day, d.id, f.line, f.id`,
    );
    const policy = await readDeferral(tx);
    const account = policy && masters.accountByNumber.get(policy.account);
    return ok({
      rows: found.map((f) => ({ ...f, amount: minor(f.amount), released: minor(f.released) })),
      account: account
        ? {
            number: account.number,
            balance: minor(-(await balanceOn(context, company.id, [account.id], { on }))),
          }
        : null,
    });
  },
});
