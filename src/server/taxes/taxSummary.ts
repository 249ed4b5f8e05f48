import { isDeepStrictEqual } from "node:util";
import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  encodeJson,
  fail,
  isCalendarDate,
  minor,
  ok,
  type Minor,
  type Result,
} from "@/core/shared";
import type { TaxDirection } from "@/core/taxes";
import { defineUseCase } from "../access";
import { rows, type Db } from "../db";

export interface TaxSummaryRow {
  direction: TaxDirection;
  code: string;
  name: string;
  returnLine: string;
  percent: string;
  documents: number;
  base: Minor;
  tax: Minor;
  /**
   * What of a tax on purchases can be deducted; what is kept back from a supplier counts in neither.
   */
  recoverable: Minor;
  unrecoverable: Minor;
}

/** What a return line comes to over its codes. */
export type TaxLineTotal = Omit<TaxSummaryRow, "code" | "name" | "percent" | "documents">;

/** What was declared of a stretch of periods. */
export interface TaxDeclaration {
  id: number;
  from: string;
  to: string;
  reference: string;
  by: string;
  at: string;
  /** Whether the records of its days still say what was declared. */
  agrees: boolean;
}

/**
 * A tax account over a stretch of days, in functional currency, debits positive: what the records
 * say of it, and what the ledger says.
 */
export interface TaxAccountRow {
  account: string;
  name: string;
  /** By records that are reported in these days. */
  recorded: Minor;
  /**
   * By records that are booked in these days but reported in others, less those of these days that
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

type Sums = Record<"base" | "tax" | "recoverable" | "unrecoverable", bigint>;

/** What is reported over a stretch of days by return line, code and rate, in functional currency. */
export async function taxRows(
  tx: Db,
  companyId: number,
  from: string,
  to: string,
): Promise<TaxSummaryRow[]> {
  const found = await rows<Omit<TaxSummaryRow, keyof Sums> & Sums>(
    tx,
    sql`with record as (select r.*, r.direction = 'sale' or r.owed_account <> '' and r.account = '' as apart,
          case when r.tax = 0 then 0
          else round(r.functional_tax::numeric * r.recoverable / r.tax)::bigint end as own
          from tax_record r
          where r.company_id = ${companyId} and r.reported_on between ${from} and ${to})
        select r.direction, r.tax_code as code, coalesce(t.name, '') as name, r.return_line as "returnLine",
          r.percent::text as percent, count(distinct r.document_id)::int as documents,
          sum(r.functional_base)::bigint as base, sum(r.functional_tax)::bigint as tax,
          coalesce(sum(r.own) filter (where not r.apart), 0)::bigint as recoverable,
          coalesce(sum(r.functional_tax - r.own) filter (where not r.apart),
          0)::bigint as unrecoverable
        from record r left join tax_code t on t.code = r.tax_code
          group by 1, 2, 3, 4, 5 order by 1, 4, 2, 5`,
  );
  return found.map((f) => ({
    ...f,
    base: minor(f.base),
    tax: minor(f.tax),
    recoverable: minor(f.recoverable),
    unrecoverable: minor(f.unrecoverable),
  }));
}

const totalsOf = (list: readonly TaxSummaryRow[]): TaxLineTotal[] =>
  [...new Set(list.map((r) => `${r.direction} ${r.returnLine}`))].map((key) => {
    const own = list.filter((r) => `${r.direction} ${r.returnLine}` === key);
    const { direction, returnLine } = own[0]!;
    const sum = (pick: (r: TaxSummaryRow) => bigint) =>
      minor(own.reduce((total, r) => total + pick(r), 0n));
    return {
      direction,
      returnLine,
      base: sum((r) => r.base),
      tax: sum((r) => r.tax),
      recoverable: sum((r) => r.recoverable),
      unrecoverable: sum((r) => r.unrecoverable),
    };
  });

/** Declarations in force that touch a stretch of days. */
async function declarationsIn(
  tx: Db,
  companyId: number,
  from: string,
  to: string,
): Promise<TaxDeclaration[]> {
  const found = await rows<Omit<TaxDeclaration, "agrees"> & { figures: string }>(
    tx,
    sql`select d.id, d.start_date as "from", d.end_date as "to", d.reference, p.name as by,
      d.declared_at as at, d.figures::text as figures
        from tax_declaration d join person p on p.id = d.declared_by
        where d.company_id = ${companyId} and d.withdrawn_at is null
          and d.start_date <= ${to} and d.end_date >= ${from} order by d.start_date`,
  );
  return Promise.all(
    found.map(async ({ figures, ...d }) => ({
      ...d,
      agrees: isDeepStrictEqual(
        JSON.parse(encodeJson(await taxRows(tx, companyId, d.from, d.to))),
        // Those that were declared before sales had taxes say no direction.
        (JSON.parse(figures) as object[]).map((f) => ({ direction: "purchase", ...f })),
      ),
    })),
  );
}

export interface TaxSummary {
  currency: string;
  rows: TaxSummaryRow[];
  totals: TaxLineTotal[];
  accounts: TaxAccountRow[];
  declared: TaxDeclaration[];
}

/**
 * What is reported by tax code over a stretch of days, in functional currency, and how that stands
 * against the accounts of the taxes.
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
  run: async ({ tx, masters }, input): Promise<Result<TaxSummary>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const [bad] = [input.from, input.to].filter((d) => !isCalendarDate(d));
    if (bad !== undefined) return fail({ code: "DATE_INVALID", text: bad, field: "from" });
    const list = await taxRows(tx, company.id, input.from, input.to);
    // The share of the tax that an account has is held in the currency of the paper; its functional
    // amount is in proportion.
    const accounts = await rows<
      Omit<TaxAccountRow, "recorded" | "otherDays" | "unrecorded" | "movement"> &
        Record<"recorded" | "otherDays" | "unrecorded" | "movement", bigint>
    >(
      tx,
      sql`with part as (
            select r.account, r.journal_id, r.reported_on, r.currency, r.recoverable as amount,
              case when r.tax = 0 then 0
              else round(r.functional_tax::numeric * r.recoverable / r.tax)::bigint end as own
              from tax_record r where r.company_id = ${company.id} and r.account <> ''
            union all select r.owed_account, r.journal_id, r.reported_on, r.currency, -r.tax,
              -r.functional_tax from tax_record r
              where r.company_id = ${company.id} and r.owed_account <> ''),
          dated as (select p.*, p.reported_on between ${input.from} and ${input.to} as in_days,
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
      rows: list,
      totals: totalsOf(list),
      declared: await declarationsIn(tx, company.id, input.from, input.to),
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
