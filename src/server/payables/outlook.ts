import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  addDays,
  fail,
  isCalendarDate,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
  dayField,
} from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { balanceOn, EVER } from "../openItems";

export interface CashWeek {
  /** Monday of the week; empty for what is overdue. */
  from: CalendarDate | "";
  to: CalendarDate | "";
  due: Minor;
  /** Of it what is held back. */
  held: Minor;
  /** What would be saved by paying by each discount's last day in that week. */
  discount: Minor;
  items: number;
}

/**
 * What suppliers are owed by the week in which it falls due, in functional currency; together it is
 * the control account.
 */
export const cashNeeded = defineUseCase({
  name: "cashNeeded",
  kind: "read",
  rights: ["read.payables", "read.banks"],
  what: "see what has to be paid",
  company: (i) => i.company,
  schema: object({ company: string().required(), on: string().required() }),
  run: async (
    context,
    input,
  ): Promise<
    Result<{
      currency: string;
      weeks: CashWeek[];
      total: Minor;
      later: Minor;
      control: Minor;
      agrees: boolean;
      /** Of it what is posted for days after this one: the ageing of the day leaves it out. */
      afterwards: Minor;
    }>
  > => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.on))
      return fail({ code: "DATE_INVALID", text: input.on, field: "on" });
    const weeks = 13;
    const found = await rows<{ week: number; due: bigint; held: bigint; items: number }>(
      tx,
      sql`select case when i.due_date < ${input.on}::date then -1 else least(${weeks},
        (i.due_date - date_trunc('week', ${input.on}::date)::date) / 7)::int end as week,
        -sum(i.left_functional)::bigint as due,
            coalesce(-sum(i.left_functional) filter (where i.hold <> '' or coalesce(p.hold,
              '') <> ''), 0)::bigint as held, count(*)::int as items
          from open_item i left join partner p on p.code = i.partner
            where i.company_id = ${company.id} and i.area = 'payables' and (i.left_amount <> 0
            or i.left_functional <> 0) group by 1`,
    );
    const saved = new Map(
      (
        await rows<{ week: number; discount: bigint }>(
          tx,
          sql`select ((x.until::date - date_trunc('week', ${input.on}::date)::date) / 7)::int as
            week, sum(round(x.amount::numeric * i.left_functional / nullif(i.amount,
            0) * -1 * sign(-i.amount)))::bigint as discount
              from open_item i cross join lateral (select d->>'until' as until,
                (d->>'amount')::bigint as amount from jsonb_array_elements(i.discounts) d
                where (d->>'until')::date >= ${input.on}::date order by (d->>'amount')::bigint desc
                limit 1) x
              where i.company_id = ${company.id} and i.area = 'payables' and i.left_amount < 0 group by 1`,
        )
      ).map((s) => [s.week, s.discount < 0n ? -s.discount : s.discount]),
    );
    const [monday] = await rows<{ day: string }>(
      tx,
      sql`select date_trunc('week', ${input.on}::date)::date as day`,
    );
    const at = new Map(found.map((f) => [f.week, f]));
    const list = Array.from({ length: weeks + 1 }, (_, n): CashWeek => {
      const week = n - 1;
      const own = at.get(week);
      return {
        from: week < 0 ? "" : addDays(monday!.day, week * 7),
        to: week < 0 ? "" : addDays(monday!.day, week * 7 + 6),
        due: minor(own?.due ?? 0n),
        held: minor(own?.held ?? 0n),
        discount: minor(week < 0 ? 0n : (saved.get(week) ?? 0n)),
        items: own?.items ?? 0,
      };
    });
    const later = minor(at.get(weeks)?.due ?? 0n);
    // Open items are what is left of all that is posted, whatever its day; so is the balance.
    const accounts = masters.accounts.filter((a) => a.control === "payables").map((a) => a.id);
    const owedOn = async (on: string) =>
      minor(-(await balanceOn(context, company.id, accounts, { on })));
    const control = await owedOn(EVER);
    const total = minor(list.reduce((t, w) => t + w.due, 0n) + later);
    return ok({
      currency: company.currency,
      weeks: list,
      total,
      later,
      control,
      agrees: control === total,
      afterwards: minor(control - (await owedOn(input.on))),
    });
  },
});

export interface LostDiscount {
  paymentId: number;
  payment: string;
  date: CalendarDate;
  supplier: string;
  supplierName: string;
  reference: string;
  currency: string;
  taken: Minor;
  had: Minor;
  lost: Minor;
}

/** Discounts that could have been had and were not, by the payments of a stretch of time. */
export const discountsLost = defineUseCase({
  name: "discountsLost",
  kind: "read",
  rights: ["read.payables"],
  what: "see discounts",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: dayField().required(),
    to: dayField().required(),
  }),
  run: async ({ tx, masters }, input): Promise<Result<LostDiscount[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<
      Omit<LostDiscount, "paymentId" | "taken" | "had" | "lost"> & {
        paymentId: bigint;
        taken: bigint;
        had: bigint;
        lost: bigint;
      }
    >(
      tx,
      sql`select d.id as "paymentId", d.number as payment, d.date, p.partner as supplier,
        p.payee as "supplierName", i.reference, i.currency, -t.taken as taken, t.discount as had,
        t.lost
          from payment_item t join payment p on p.document_id = t.payment_id
            join document d on d.id = t.payment_id join open_item i on i.id = t.item_id
          where d.company_id = ${company.id} and d.date between ${input.from} and ${input.to}
            and d.status in ('posted', 'sent', 'cleared') and (t.lost <> 0 or t.discount <> 0)
            order by d.date desc, d.id desc`,
    );
    return ok(
      found.map((f) => ({
        ...f,
        paymentId: Number(f.paymentId),
        taken: minor(f.taken),
        had: minor(f.had),
        lost: minor(f.lost),
      })),
    );
  },
});
