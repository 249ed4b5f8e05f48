import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { invoiceInput, type InvoiceInput } from "@/core/payables";
import {
  decodeJson,
  fail,
  isCalendarDate,
  minor,
  ok,
  type Minor,
  type Result,
} from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import {
  checkOf,
  prepare,
  readStored,
  type InvoiceCheck,
  type InvoiceFigures,
} from "./checkInvoice";

export interface InvoiceRow {
  id: number;
  number: string | null;
  supplier: string;
  supplierName: string;
  supplierNumber: string;
  kind: string;
  date: string | null;
  amount: Minor;
  currency: string;
  status: string;
  by: string;
  /** What is left of it to be paid, in its currency; null while it is not posted. */
  left: Minor | null;
  due: string | null;
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}

export const listInvoices = defineUseCase({
  name: "listInvoices",
  kind: "read",
  rights: ["read.payables"],
  what: "see invoices",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: string(),
    to: string(),
    status: string()
      .oneOf(["draft", "waiting", "held", "posted", "reversed", "all"] as const)
      .default("all"),
    text: string().max(200),
  }),
  run: async ({ tx, masters }, input): Promise<Result<InvoiceRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<
      Omit<InvoiceRow, "id" | "amount" | "left"> & {
        id: bigint;
        amount: bigint | null;
        left: bigint | null;
      }
    >(
      tx,
      sql`select d.id, d.number, coalesce(p.code, i.content->>'supplier') as supplier,
        coalesce(p.name, '') as "supplierName", i.content->>'number' as "supplierNumber",
        d.type as kind, d.date, d.amount, d.currency, d.status, b.name as by,
            (select -sum(o.left_amount)::bigint from open_item o
              where o.document_id = d.id) as "left",
            count(*) over ()::int as "of", (select min(o.due_date) from open_item o
              where o.document_id = d.id and o.left_amount <> 0) as due
          from document d join invoice i on i.document_id = d.id left
            join partner p on p.id = i.partner_id join person b on b.id = d.created_by
          where d.kind = 'invoice'
            and d.company_id = ${company.id} ${
              input.status === "all"
                ? sql``
                : sql`and d.status =
            ${input.status}`
            } ${
              input.text?.trim()
                ? sql`and d.search like ${`%${input.text
                    .trim()
                    .toLowerCase()
                    .replace(/[%_\\]/g, "\\$&")}%`}`
                : sql``
            }
            ${
              input.from && isCalendarDate(input.from)
                ? sql`and (d.date >= ${input.from}
              or d.status in ('draft', 'waiting',
              'held'))`
                : sql``
            } ${
              input.to && isCalendarDate(input.to)
                ? sql`and
              (d.date <= ${input.to} or d.status in ('draft', 'waiting', 'held'))`
                : sql``
            }
          order by (d.status in ('draft', 'waiting', 'held')) desc, d.date desc nulls first,
            d.id desc limit 1000`,
    );
    return ok(
      found.map((f) => ({
        ...f,
        id: Number(f.id),
        amount: minor(f.amount ?? 0n),
        left: f.left === null ? null : minor(f.left),
      })),
    );
  },
});

export interface InvoiceView {
  id: number;
  number: string | null;
  status: string;
  company: string;
  supplierName: string;
  content: InvoiceInput;
  version: number;
  savedAt: string;
  figures: InvoiceFigures;
  /** What there is to say of it while it can still be changed or approved. */
  check: InvoiceCheck | null;
  journals: { id: number; number: string; description: string; total: bigint }[];
  items: { id: number; due: string; amount: Minor; left: Minor }[];
  mayChange: boolean;
  mayPost: boolean;
  /** Whether this person may let pass what it is held for. */
  mayRelease: boolean;
  mayCancel: boolean;
}

export const getInvoice = defineUseCase({
  name: "getInvoice",
  kind: "read",
  rights: ["read.payables"],
  what: "see invoices",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<InvoiceView>> => {
    const { tx, may } = context;
    const stored = await readStored(context, input.id, false);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
    if (!may("read.payables", stored.company))
      return fail({ code: "FORBIDDEN", what: `see invoices of ${stored.company}` });
    const content = invoiceInput(stored.content);
    const open =
      stored.status === "draft" || stored.status === "waiting" || stored.status === "held";
    // What is posted stands as it was; the rest is computed as it would be posted today.
    let check: InvoiceCheck | null = null;
    if (open) {
      const ready = await prepare(context, content, input.id);
      if (!ready.ok) return ready;
      check = await checkOf(context, content, ready.value);
    }
    const journals = await rows<{ id: bigint; number: string; description: string; total: bigint }>(
      tx,
      sql`select j.id, j.number, j.description, j.total from document_link l
        join journal j on j.id = l.to_id where l.from_id = ${input.id} and l.kind = 'made'
        order by j.id`,
    );
    const items = await rows<{ id: bigint; due: string; amount: bigint; left: bigint }>(
      tx,
      sql`select id, due_date as due, amount, left_amount as "left" from open_item
        where document_id = ${input.id} and journal_id = ${stored.journalId ?? 0}
        order by due_date, id`,
    );
    return ok({
      id: input.id,
      number: stored.number,
      status: stored.status,
      company: stored.company,
      supplierName: stored.supplierName,
      content,
      version: stored.version,
      savedAt: stored.updatedAt,
      figures: check ?? decodeJson<InvoiceFigures>(stored.figures!),
      check,
      journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      items: items.map((i) => ({
        ...i,
        id: Number(i.id),
        amount: minor(-i.amount),
        left: minor(-i.left),
      })),
      mayChange: open && may("prepare.payables", stored.company),
      mayPost: open && may("post.payables", stored.company),
      mayRelease:
        stored.status === "held" &&
        stored.createdBy !== context.person.id &&
        may("post.payables", stored.company),
      mayCancel: stored.status === "posted" && may("reverse.payables", stored.company),
    });
  },
});

export interface TaxSummaryRow {
  code: string;
  name: string;
  returnLine: string;
  percent: string;
  documents: number;
  base: Minor;
  tax: Minor;
}

/**
 * A tax account over a stretch of days, in functional currency, debits positive: what the records
 * say of it, and what the ledger says.
 */
export interface TaxAccountRow {
  account: string;
  name: string;
  /** By records whose tax day lies in these days. */
  recorded: Minor;
  /**
   * By records that are booked in these days but of another tax day, less those of these days that
   * are booked in others.
   */
  otherDays: Minor;
  /**
   * Posted by journals that record no tax: payments to the office, manual journals, balances taken
   * over.
   */
  unrecorded: Minor;
  movement: Minor;
  /**
   * Whether journals with records post on it, to the cent of their own currency, what the records
   * say.
   */
  agrees: boolean;
}

/**
 * What was recorded by tax code over a stretch of tax days, in functional currency, and how that
 * stands against the accounts of the taxes.
 */
export const taxSummary = defineUseCase({
  name: "taxSummary",
  kind: "read",
  rights: ["read.payables"],
  what: "see taxes",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: string().required(),
    to: string().required(),
  }),
  run: async (
    { tx, masters },
    input,
  ): Promise<Result<{ currency: string; rows: TaxSummaryRow[]; accounts: TaxAccountRow[] }>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const [bad] = [input.from, input.to].filter((d) => !isCalendarDate(d));
    if (bad !== undefined) return fail({ code: "DATE_INVALID", text: bad, field: "from" });
    const found = await rows<Omit<TaxSummaryRow, "base" | "tax"> & { base: bigint; tax: bigint }>(
      tx,
      sql`select r.tax_code as code, coalesce(t.name, '') as name, r.return_line as "returnLine",
        r.percent::text as percent, count(distinct r.document_id)::int as documents,
        sum(r.functional_base)::bigint as base, sum(r.functional_tax)::bigint as tax
          from tax_record r left join tax_code t on t.code = r.tax_code
            where r.company_id = ${company.id} and r.tax_date between ${input.from} and ${input.to}
            group by 1, 2, 3, 4 order by 3, 1, 4`,
    );
    // The share of the tax that an account has is held in the currency of the paper; its functional
    // amount is in proportion.
    const accounts = await rows<
      Omit<TaxAccountRow, "recorded" | "otherDays" | "unrecorded" | "movement"> &
        Record<"recorded" | "otherDays" | "unrecorded" | "movement", bigint>
    >(
      tx,
      sql`with part as (
            select r.account, r.journal_id, r.tax_date, r.currency, r.recoverable as amount,
              case when r.tax = 0 then 0
              else round(r.functional_tax::numeric * r.recoverable / r.tax)::bigint end as own
              from tax_record r where r.company_id = ${company.id} and r.account <> ''
            union all select r.owed_account, r.journal_id, r.tax_date, r.currency, -r.tax,
              -r.functional_tax from tax_record r
              where r.company_id = ${company.id} and r.owed_account <> ''),
          dated as (select p.*, p.tax_date between ${input.from} and ${input.to} as in_days,
            j.date between ${input.from} and ${input.to} as booked from part p
            join journal j on j.id = p.journal_id),
          line as (
            select a.number as account, l.journal_id,
              case when l.currency = ${company.currency} then l.amount
              else l.foreign_amount end * case l.side when 'D' then 1 else -1 end as amount,
              l.currency, l.amount * case l.side when 'D' then 1 else -1 end as own,
              exists (select 1 from tax_record r where r.journal_id = l.journal_id) as taxed
            from journal_line l join account a on a.id = l.account_id
            where l.company_id = ${company.id} and l.book_id in (0, ${masters.mainBook?.id ?? 0})
              and l.date between ${input.from} and ${input.to}
              and a.number in (select account from tax_code where account <> '' union
                select owed_account from tax_code where owed_account <> '' union select account
                from part)),
          apart as (
            select account, bool_and(amount = 0) as agrees from (
              select account, currency, sum(amount) as amount from (select account, currency, amount
                from line where taxed union all select account, currency, -amount from dated
                where booked) x group by 1, 2) y group by 1),
          told as (select account, coalesce(sum(own) filter (where in_days), 0) as recorded,
            coalesce(sum(own) filter (where booked), 0) - coalesce(sum(own) filter (where in_days),
            0) as other from dated group by 1),
          moved as (select account, coalesce(sum(own) filter (where not taxed), 0) as unrecorded,
            sum(own) as movement from line group by 1)
          select a.number as account, a.name, coalesce(t.recorded, 0)::bigint as recorded,
            coalesce(t.other, 0)::bigint as "otherDays", coalesce(m.unrecorded,
            0)::bigint as unrecorded, coalesce(m.movement, 0)::bigint as movement,
            coalesce(d.agrees, true) as agrees
          from account a left join told t on t.account = a.number left
            join moved m on m.account = a.number left join apart d on d.account = a.number
          where (t.account is not null or m.account is not null) and (coalesce(t.recorded, 0) <> 0
            or coalesce(t.other, 0) <> 0 or coalesce(m.unrecorded, 0) <> 0 or coalesce(m.movement,
            0) <> 0 or not coalesce(d.agrees, true)) order by 1`,
    );
    return ok({
      currency: company.currency,
      rows: found.map((f) => ({ ...f, base: minor(f.base), tax: minor(f.tax) })),
      accounts: accounts.map((a) => ({
        ...a,
        recorded: minor(a.recorded),
        otherDays: minor(a.otherDays),
        unrecorded: minor(a.unrecorded),
        movement: minor(a.movement),
      })),
    });
  },
});
