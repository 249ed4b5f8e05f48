import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { Leftover } from "@/core/purchasing";
import {
  daysBetween,
  fail,
  isCalendarDate,
  minor,
  ok,
  readInstant,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { seqAt } from "../ledger";
import { balanceOn } from "../openItems";

type Raw = Omit<
  Leftover,
  "receiptLine" | "receiptId" | "orderId" | "age" | "received" | "invoiced" | "leftover"
> & {
  receiptLine: bigint;
  receiptId: bigint;
  orderId: bigint;
  received: bigint;
  invoiced: bigint;
  leftover: bigint;
};

/**
 * What is received and not invoiced on a day, by receipt line; as known then on wish. One query.
 * `standing`: only as far as it still stands, so that what was billed or written off on a later day
 * is not taken once more.
 */
export async function leftovers(
  { tx }: Context,
  companyId: number,
  on: CalendarDate,
  options: { asKnown?: string | undefined; only?: readonly number[]; standing?: boolean } = {},
): Promise<Leftover[]> {
  const seq = options.asKnown ? await seqAt(tx, companyId, readInstant(options.asKnown)!) : null;
  const until = sql`e.date <= ${on}`;
  const then = sql`coalesce(sum(e.functional) filter (where ${until}), 0)`;
  const left = options.standing
    ? sql`(case when sign(${then}) = sign(sum(e.functional)) then sign(${then}) *
      least(abs(${then}), abs(sum(e.functional))) else 0 end)`
    : sql`sum(e.functional)`;
  const found = await rows<Raw>(
    tx,
    sql`select r.id as "receiptLine", r.receipt_id as "receiptId", g.number as receipt, r.date,
      c.code as company, p.code as supplier, p.name as "supplierName", d.number as order,
      d.id as "orderId", d.status = 'open' as "orderOpen", l.kind, l.description, l.account,
      l.dimensions, x.received, x.invoiced, x.leftover
        from (select e.receipt_line_id, sum(e.functional) filter (where e.kind in ('received',
          'returned') and ${until})::bigint as received,
          coalesce(-sum(e.functional) filter (where e.kind = 'invoiced' and ${until}),
          0)::bigint as invoiced, ${left}::bigint as leftover
              from grni_entry e
                where e.company_id = ${companyId} ${
                  options.standing
                    ? sql``
                    : sql`and
                ${until}`
                } ${
                  seq === null
                    ? sql``
                    : sql`and e.seq <=
                ${seq}`
                } ${
                  options.only?.length
                    ? sql`and e.receipt_line_id =
                any(${arrayOf(options.only)}::bigint[])`
                    : sql``
                } group by 1 having ${left} <> 0) x
          join goods_receipt_line r on r.id = x.receipt_line_id join document g on g.id = r.receipt_id
            join order_line l on l.id = r.order_line_id join document d on d.id = l.order_id
            join company c on c.id = d.company_id
          join purchase_order o on o.document_id = d.id join partner p on p.id = o.partner_id
            order by r.date, r.id`,
  );
  return found.map((f) => ({
    ...f,
    receiptLine: Number(f.receiptLine),
    receiptId: Number(f.receiptId),
    orderId: Number(f.orderId),
    age: daysBetween(f.date, on),
    received: minor(f.received ?? 0n),
    invoiced: minor(f.invoiced),
    leftover: minor(f.leftover),
  }));
}

export interface GrniList {
  currency: string;
  rows: Leftover[];
  total: Minor;
  /** The control account on the same day, and what of it came otherwise than by receipts. */
  control: Minor;
  account: string;
  agrees: boolean;
}

/** What is received and not invoiced, held against its control account. */
export const listGrni = defineUseCase({
  name: "listGrni",
  kind: "read",
  rights: ["read.payables"],
  what: "see what is received and not invoiced",
  company: (i) => i.company,
  schema: object({ company: string().required(), on: string().required(), asKnown: string() }),
  run: async (context, input): Promise<Result<GrniList>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.on))
      return fail({ code: "DATE_INVALID", text: input.on, field: "on" });
    if (input.asKnown && !readInstant(input.asKnown))
      return fail({ code: "DATE_INVALID", text: input.asKnown, field: "asKnown" });
    const list = await leftovers(context, company.id, input.on, { asKnown: input.asKnown });
    const accounts = context.masters.accounts.filter((a) => a.control === "GRNI");
    const control = minor(
      -(await balanceOn(
        context,
        company.id,
        accounts.map((a) => a.id),
        input,
      )),
    );
    const total = minor(list.reduce((t, l) => t + l.leftover, 0n));
    return ok({
      currency: company.currency,
      rows: list,
      total,
      control,
      account: accounts.map((a) => a.number).join(", "),
      agrees: control === total,
    });
  },
});

export interface CleanedRow {
  date: CalendarDate;
  supplierName: string;
  receipt: string;
  receiptId: number;
  order: string;
  amount: Minor;
  reason: string;
  by: string;
  run: { id: number; number: string };
  journal: { id: number; number: string };
  undone: boolean;
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}

/** What was written off of it, by whom or by which rule, with its journal. */
export const listCleaned = defineUseCase({
  name: "listCleaned",
  kind: "read",
  rights: ["read.payables"],
  what: "see what was cleaned up",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<CleanedRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<
      Omit<CleanedRow, "amount" | "receiptId"> & { amount: bigint; receiptId: bigint }
    >(
      tx,
      sql`select e.date, p.name as "supplierName", g.number as receipt, g.id as "receiptId",
        d.number as order, -e.functional as amount, e.reason, b.name as by, jsonb_build_object('id',
        u.id, 'number', u.number) as run, jsonb_build_object('id', j.id, 'number',
        j.number) as journal, u.status = 'reversed' as undone, count(*) over ()::int as "of"
          from grni_entry e join goods_receipt_line r on r.id = e.receipt_line_id
            join document g on g.id = r.receipt_id join order_line l on l.id = r.order_line_id
            join document d on d.id = l.order_id join purchase_order o on o.document_id = d.id
            join partner p on p.id = o.partner_id
            join document u on u.id = e.document_id join journal j on j.id = e.journal_id
              join person b on b.id = e.made_by
              where e.company_id = ${company.id} and e.kind = 'cleaned' and e.reason <> 'taken back'
              order by e.id desc limit 1000`,
    );
    return ok(
      found.map((f) => ({ ...f, receiptId: Number(f.receiptId), amount: minor(f.amount) })),
    );
  },
});
