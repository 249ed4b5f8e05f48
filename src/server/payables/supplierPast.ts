import { sql } from "drizzle-orm";
import type { InvoiceInput, InvoiceReading, SupplierPast } from "@/core/payables";
import { dateText, isCalendarDate, type Minor } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf, rows } from "../db";

interface Paper {
  input: InvoiceInput;
  id?: number | undefined;
  reading: InvoiceReading;
}

/** Invoices of a supplier whose numbers make its pattern. */
const NUMBERS = 12;
/** Days in which totals just below a limit are counted together. */
const DAYS = 90;
/** Days after confirmation in which an account that nobody has paid to is pointed out. */
const NEW_DAYS = 60;

/** What is known of the suppliers of some invoices, in as many queries for one as for many. */
export async function pastOf(
  { tx, today }: Context,
  papers: readonly Paper[],
): Promise<SupplierPast[]> {
  const codes = [...new Set(papers.map((p) => p.input.supplier.trim()).filter((c) => c !== ""))];
  const nothing = { supplier: "", numbers: [], totals: [], newAccounts: [] };
  if (codes.length === 0) return papers.map(() => nothing);
  const accounts = await newAccountsOf(codes, today, tx);
  const found = await rows<{ n: number; supplier: string; numbers: string[]; totals: string[] }>(
    tx,
    sql`select x.n, p.name as supplier, coalesce((select array_agg(l.number order by l.id desc) from (
          select d.id, i.content->>'number' as number from invoice i
            join document d on d.id = i.document_id
          where i.partner_id = p.id and d.status = 'posted' and d.id <> x.own
            and i.content->>'kind' = x.kind
          order by d.id desc limit ${NUMBERS}) l), '{}') as numbers,
        coalesce((select array_agg(d.amount::text) from invoice i
            join document d on d.id = i.document_id join company c on c.id = d.company_id
          where i.partner_id = p.id and d.status in ('posted', 'waiting') and d.id <> x.own
            and c.code = x.company and d.currency = x.currency
            and d.date between x.day - ${DAYS}::int and x.day + ${DAYS}::int), '{}') as totals
      from unnest(${arrayOf(papers.map((_, i) => i))}::int[],
          ${arrayOf(papers.map((p) => p.input.supplier.trim()))}::text[],
          ${arrayOf(papers.map((p) => p.input.kind))}::text[],
          ${arrayOf(papers.map((p) => p.input.company))}::text[],
          ${arrayOf(papers.map((p) => p.reading.currency))}::text[],
          ${arrayOf(papers.map((p) => (isCalendarDate(p.reading.date) ? p.reading.date : today)))}::date[],
          ${arrayOf(papers.map((p) => p.id ?? 0))}::bigint[])
          as x(n, supplier, kind, company, currency, day, own)
        join partner p on p.code = x.supplier`,
  );
  const byPlace = new Map(found.map((f) => [f.n, f]));
  return papers.map((paper, i) => ({
    supplier: byPlace.get(i)?.supplier ?? "",
    numbers: byPlace.get(i)?.numbers ?? [],
    totals: (byPlace.get(i)?.totals ?? []).map((t) => BigInt(t) as Minor),
    newAccounts: accounts.get(paper.input.supplier.trim()) ?? [],
  }));
}

/** Accounts confirmed lately that nobody has paid to, of suppliers who had other ones before. */
async function newAccountsOf(
  codes: readonly string[],
  today: string,
  tx: Context["tx"],
): Promise<Map<string, { account: string; since: string }[]>> {
  const found = await rows<{ code: string; account: string; since: string }>(
    tx,
    sql`select p.code, coalesce(nullif(b.iban, ''), b.number) as account,
        to_char(b.decided_at, 'YYYY-MM-DD') as since
      from partner p join partner_bank b on b.partner_id = p.id
      where p.code = any(${arrayOf(codes)}::text[]) and b.state = 'confirmed'
        and b.decided_at > ${today}::date - ${NEW_DAYS}::int
        and (exists (select 1 from partner_bank o
            where o.partner_id = p.id and o.id < b.id and o.state = 'ended')
          or exists (select 1 from payment y join document d on d.id = y.document_id
            where y.partner = p.code and d.status <> 'reversed'
              and (y.iban <> '' or y.account_number <> '')))
        and not exists (select 1 from payment y join document d on d.id = y.document_id
          where y.partner = p.code and d.status <> 'reversed'
            and y.iban = b.iban and y.account_number = b.number)
      order by b.id`,
  );
  const of = new Map<string, { account: string; since: string }[]>();
  for (const { code, account, since } of found)
    of.set(code, [...(of.get(code) ?? []), { account, since: dateText(since) }]);
  return of;
}
