import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { DOCUMENT_KINDS } from "@/core/documents";
import { DUE_AHEAD, dueAhead, lateness } from "@/core/openItems";
import {
  addMonths,
  dayField,
  fail,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { rightOn, type ItemArea } from "./openItems";

/** Months of turnover, and of payments whose lateness is counted. */
const MONTHS = 12;
/** Documents and remarks that are shown. */
const LATEST = 6;

export interface PartnerGlance {
  currency: string;
  /** What is open by when it falls due; positive where it is normal for the area. */
  due: { name: string; amount: Minor }[];
  /** Invoices less credit notes by month of their posting, the oldest month first. */
  months: { month: string; amount: Minor }[];
  /** How late invoices were settled in these months; null where none was. */
  late: { days: number; latePercent: number } | null;
  /** Items that are held back. */
  held: number;
  documents: {
    id: number;
    kind: string;
    number: string | null;
    title: string;
    date: CalendarDate | null;
    amount: Minor | null;
    currency: string | null;
    status: string;
  }[];
  /** What was said of it and on its documents; `document` is null for what is said of itself. */
  remarks: {
    document: { id: number; kind: string } | null;
    title: string;
    by: string;
    at: string;
    text: string;
  }[];
}

/**
 * The state of a supplier or customer in a company at one glance: what is open by due date, twelve
 * months of invoices, how late they were settled, and what was last done and said. Amounts in
 * functional currency.
 */
export const partnerGlance = defineUseCase({
  name: "partnerGlance",
  kind: "read",
  rights: ["read.payables", "read.receivables"],
  what: "see suppliers and customers",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    area: string()
      .oneOf(["payables", "receivables"] as const)
      .required(),
    partner: string().required().max(60),
    on: dayField().required(),
  }),
  run: async (context, input): Promise<Result<PartnerGlance>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!context.may(rightOn("read", input.area), company.code))
      return fail({ code: "FORBIDDEN", what: `see ${input.area} of ${company.name}` });
    const of = { companyId: company.id, ...input };
    const sign = input.area === "payables" ? -1n : 1n;
    const open = await openOf(context, of);
    const ahead = dueAhead(
      open.map((i) => ({ due: i.due, left: minor(sign * i.left) })),
      input.on,
    );
    return ok({
      currency: company.currency,
      due: DUE_AHEAD.map((name, i) => ({ name, amount: ahead[i]! })),
      months: await monthsOf(context, of, sign),
      late: await latenessOf(context, of, sign),
      held: open.filter((i) => i.held).length,
      documents: await documentsOf(context, of),
      remarks: await remarksOf(context, of),
    });
  },
});

interface Of {
  companyId: number;
  area: ItemArea;
  partner: string;
  on: CalendarDate;
}

const openOf = ({ tx }: Context, of: Of) =>
  rows<{ due: CalendarDate; left: bigint; held: boolean }>(
    tx,
    sql`select i.due_date as due, i.hold <> '' as held, i.functional - coalesce((
          select sum(l.functional) from allocation_line l join allocation a
            on a.id = l.allocation_id where l.item_id = i.id and a.date <= ${of.on}), 0)::bigint
          as left
        from open_item i where i.company_id = ${of.companyId} and i.area = ${of.area}
          and i.partner = ${of.partner} and i.date <= ${of.on}`,
  ).then((found) => found.filter((i) => i.left !== 0n));

async function monthsOf({ tx }: Context, of: Of, sign: bigint): Promise<PartnerGlance["months"]> {
  const first = addMonths(`${of.on.slice(0, 7)}-01`, 1 - MONTHS);
  const found = await rows<{ month: string; amount: bigint }>(
    tx,
    sql`select to_char(i.date, 'YYYY-MM') as month, sum(i.functional)::bigint as amount
        from open_item i where i.company_id = ${of.companyId} and i.area = ${of.area}
          and i.partner = ${of.partner} and i.kind in ('invoice', 'credit note')
          and i.date between ${first} and ${of.on} group by 1`,
  );
  const by = new Map(found.map((f) => [f.month, f.amount]));
  return Array.from({ length: MONTHS }, (_, n) => {
    const month = addMonths(first, n).slice(0, 7);
    return { month, amount: minor(sign * (by.get(month) ?? 0n)) };
  });
}

async function latenessOf({ tx }: Context, of: Of, sign: bigint) {
  const found = await rows<{ due: CalendarDate; on: CalendarDate; amount: bigint }>(
    tx,
    sql`select i.due_date as due, a.date as on, l.functional as amount
        from open_item i join allocation_line l on l.item_id = i.id
          join allocation a on a.id = l.allocation_id
        where i.company_id = ${of.companyId} and i.area = ${of.area}
          and i.partner = ${of.partner} and i.kind = 'invoice'
          and sign(i.functional) = ${String(sign)}::int
          and a.date > ${addMonths(of.on, -MONTHS)} and a.date <= ${of.on}`,
  );
  return lateness(found.map((f) => ({ due: f.due, on: f.on, amount: minor(f.amount) })));
}

async function documentsOf({ tx }: Context, of: Of): Promise<PartnerGlance["documents"]> {
  const found = await rows<{
    id: bigint;
    kind: string;
    number: string | null;
    title: string;
    date: CalendarDate | null;
    amount: bigint | null;
    currency: string | null;
    status: string;
  }>(
    tx,
    sql`select d.id, d.kind, d.number, d.title, d.date, d.amount, d.currency, d.status
        from document d join partner p on p.id = d.partner_id
        where p.code = ${of.partner} and d.company_id = ${of.companyId}
          and d.kind = any(${kindsOf(of.area)}::text[])
          and coalesce(d.date, ${of.on}) <= ${of.on}
        order by coalesce(d.date, date 'infinity') desc, d.id desc limit ${LATEST}`,
  );
  return found.map((f) => ({
    ...f,
    id: Number(f.id),
    amount: f.amount === null ? null : minor(f.amount),
  }));
}

/** The kinds of document of an area: a partner can be on both sides of trade. */
const kindsOf = (area: ItemArea) =>
  arrayOf(Object.entries(DOCUMENT_KINDS).flatMap(([kind, k]) => (k.area === area ? [kind] : [])));

async function remarksOf({ tx }: Context, of: Of): Promise<PartnerGlance["remarks"]> {
  return rows<PartnerGlance["remarks"][number]>(
    tx,
    sql`select case when d.id is null then null
          else json_build_object('id', d.id, 'kind', d.kind) end as document,
        coalesce(d.title, r.kind) as title, w.name as by, r.at, r.text
        from remark r left join document d on d.id = r.document_id
          join partner p on p.id = coalesce(r.partner_id, d.partner_id)
          join person w on w.id = r.person_id
        where p.code = ${of.partner} and coalesce(r.company_id, d.company_id) = ${of.companyId}
          and (d.id is null or d.kind = any(${kindsOf(of.area)}::text[]))
        order by r.id desc limit ${LATEST}`,
  );
}
