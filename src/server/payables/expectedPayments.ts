import { sql } from "drizzle-orm";
import { instalmentsOf, termsSchema, type Terms } from "@/core/openItems";
import { addDays, minor, type CalendarDate, type Minor } from "@/core/shared";
import type { Context } from "../access";
import type { ExpectsAtBank } from "../banks";
import { arrayOf, rows } from "../db";
import { dueOf } from "../recurring";
import { readTemplates, RECURRING_INVOICES } from "./recurringInvoices";

/** An invoice that is to come, and when it will have to be paid. */
export interface InvoiceToCome {
  document: { id: number; kind: string };
  partner: string;
  what: string;
  /** The day of the invoice, and the one on which it is due. */
  date: CalendarDate;
  due: CalendarDate;
  /** Minor units of its currency; positive is owed. */
  amount: Minor;
  currency: string;
}

/**
 * Invoices that recurring ones will make up to a day, as large as the last one of each supplier was;
 * of what has made none yet, nothing is known.
 */
export async function recurringToCome(
  context: Context,
  companyId: number,
  upTo: CalendarDate,
): Promise<InvoiceToCome[]> {
  const templates = await readTemplates(context, sql`d.company_id = ${companyId}`);
  const last = await rows<{
    id: bigint;
    supplier: string;
    amount: bigint;
    currency: string;
    terms: Terms | null;
  }>(
    context.tx,
    sql`select distinct on (l.from_id, p.code) l.from_id as id, p.code as supplier, x.amount,
        x.currency, t.terms
      from document_link l join document x on x.id = l.to_id
        join invoice i on i.document_id = x.id join partner p on p.id = i.partner_id
        left join payment_terms t on t.code = p.terms
      where l.from_id = any(${arrayOf(templates.map((t) => t.id))}::bigint[]) and l.kind = 'made'
        and x.status <> 'reversed' and x.amount is not null
      order by l.from_id, p.code, x.date desc, x.id desc`,
  );
  const lastOf = new Map(last.map((l) => [`${l.id} ${l.supplier}`, l]));
  return templates.flatMap((t) =>
    dueOf(RECURRING_INVOICES, t, upTo).flatMap(({ date, part }) => {
      const made = lastOf.get(`${t.id} ${part}`);
      if (!made) return [];
      return instalments(made.terms, date, minor(made.amount)).map((i) => ({
        document: { id: t.id, kind: RECURRING_INVOICES.id },
        partner: made.supplier,
        what: t.name,
        date,
        due: i.due,
        amount: i.amount,
        currency: made.currency,
      }));
    }),
  );
}

/** The same for statements of banks: what is debited before its invoice is here. */
export const invoicesToCome: ExpectsAtBank = async (context, { companyId, currency }, { to }) =>
  (await recurringToCome(context, companyId, addDays(to, 31)))
    .filter((i) => i.currency === currency)
    .map((i) => ({
      what: i.what,
      days: [i.date, i.due],
      amount: minor(-i.amount),
      partner: i.partner,
      coding: null,
    }));

/** When an amount of a day falls due by terms; without any, thirty days later. */
export const instalments = (
  terms: Terms | null,
  date: CalendarDate,
  amount: Minor,
): { due: CalendarDate; amount: Minor }[] => instalmentsOf(terms ?? THIRTY_DAYS, date, amount);

const THIRTY_DAYS: Terms = termsSchema.cast({});

/** Items that payment runs in preview would pay: the day of the run, and its number. */
export async function inPaymentRuns(
  { tx }: Context,
  companyId: number,
): Promise<Map<number, { date: CalendarDate; run: string }>> {
  const found = await rows<{ key: string; date: string; run: string }>(
    tx,
    sql`select i.key, r.params ->> 'date' as date, d.number as run
      from run r join document d on d.id = r.id and d.status = 'preview'
        join run_item i on i.run_id = r.id and i.taken_as = 'payment'
      where r.kind = 'payment' and d.company_id = ${companyId}`,
  );
  return new Map(found.map(({ key, ...r }) => [itemOfKey(key), r]));
}

const itemOfKey = (key: string): number => Number(/\d+$/.exec(key)?.[0] ?? 0);
