import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { AccountLetter } from "@/core/receivables";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";
import { letterEmail } from "./letterEmail";
import { lettersRunOf } from "./sendLetters";

/** A run of letters in their list. */
export interface LettersRunRow {
  id: number;
  number: string;
  what: AccountLetter;
  date: CalendarDate;
  status: string;
  by: string;
  letters: number;
  sent: number;
  amount: Minor;
}

/** The runs of letters of a company, newest first. */
export const listLetterRuns = defineUseCase({
  name: "listLetterRuns",
  kind: "read",
  rights: ["read.receivables"],
  what: "see letters",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<LettersRunRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<LettersRunRow, "amount"> & { amount: bigint }>(
      tx,
      sql`select d.id::int as id, d.number, r.params->>'what' as what, d.date, d.status,
          p.name as by, coalesce(l.letters, 0) as letters, coalesce(l.sent, 0) as sent,
          coalesce(l.amount, d.amount, 0)::bigint as amount
        from run r join document d on d.id = r.id join person p on p.id = d.created_by
          left join lateral (select count(*)::int as letters, sum(c.amount)::bigint as amount,
            count(c.sent_at)::int as sent from customer_letter c where c.run_id = r.id
            having count(*) > 0) l on true
        where r.kind = 'letters' and d.company_id = ${company.id} and d.status <> 'discarded'
        order by d.id desc limit 200`,
    );
    return ok(found.map((f) => ({ ...f, amount: minor(f.amount) })));
  },
});

/** A letter of a run: to whom, about how much, and where it stands. */
export interface LetterRow {
  customer: string;
  name: string;
  email: string;
  level: number;
  items: number;
  /** The company's, in which the amounts are. */
  currency: string;
  amount: Minor;
  fee: Minor;
  interest: Minor;
  sale: { id: number; number: string } | null;
  sentTo: string | null;
  sentOn: string | null;
}

/** The letters that a run makes, or has made. */
export const lettersOfRun = defineUseCase({
  name: "lettersOfRun",
  kind: "read",
  rights: ["read.receivables"],
  what: "see letters",
  of: "checked",
  schema: object({ run: string().required().max(40) }),
  run: async (context, input): Promise<Result<LetterRow[]>> => {
    const run = await lettersRunOf(context, input.run);
    if (!run) return fail({ code: "NOT_FOUND", what: "such run of letters" });
    if (!context.may("read.receivables", run.company))
      return fail({ code: "FORBIDDEN", what: `see letters of ${run.company}` });
    const { currency } = context.masters.companyByCode.get(run.company)!;
    const found = await rows<
      Omit<LetterRow, "amount" | "fee" | "interest" | "currency"> & {
        amount: bigint;
        fee: bigint;
        interest: bigint;
      }
    >(
      context.tx,
      sql`select x.*, p.name, ${letterEmail} as email, l.sent_to as "sentTo", l.sent_at as "sentOn",
          case when s.id is not null then json_build_object('id', s.id, 'number', s.number) end as sale
        from (select i.detail->>'partner' as customer,
            coalesce(max((i.detail->>'level')::int), 0) as level,
            count(*) filter (where i.detail ? 'item')::int as items,
            coalesce(sum(i.amount) filter (where i.detail ? 'item'), 0)::bigint as amount,
            coalesce(sum(i.amount) filter (where i.detail->>'charge' = 'fee'), 0)::bigint as fee,
            coalesce(sum(i.amount) filter (where i.detail->>'charge' = 'interest'), 0)::bigint
              as interest
          from run_item i where i.run_id = ${run.id} and i.state = 'in' group by 1) x
        join partner p on p.code = x.customer
        left join customer_letter l on l.run_id = ${run.id} and l.partner = x.customer
        left join document s on s.id = l.sale_id
        where x.items > 0 order by x.customer`,
    );
    return ok(
      found.map((f) => ({
        ...f,
        currency,
        amount: minor(f.amount),
        fee: minor(f.fee),
        interest: minor(f.interest),
      })),
    );
  },
});
