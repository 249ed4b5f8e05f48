import { sql } from "drizzle-orm";
import type { Terms } from "@/core/openItems";
import { minor, proportion, type CalendarDate, type Minor } from "@/core/shared";
import type { Context } from "../access";
import { rows } from "../db";

/** What of an order is not invoiced yet, on the day on which it is expected. */
export interface OrderToPay {
  id: number;
  number: string;
  partner: string;
  /** The day of its next delivery, or of the order where none was said. */
  date: CalendarDate;
  terms: Terms | null;
  /** Minor units of its currency, with the tax that can't be recovered; positive is owed. */
  amount: Minor;
  currency: string;
}

/** Orders in force of a company with what is still to be invoiced of them. */
export async function ordersToPay({ tx }: Context, companyId: number): Promise<OrderToPay[]> {
  const found = await rows<{
    id: bigint;
    number: string;
    partner: string;
    date: string;
    terms: Terms | null;
    currency: string;
    lines: { cost: string; quantity: string; left: string }[];
  }>(
    tx,
    sql`select d.id, d.number, coalesce(p.code, '') as partner, t.terms, d.currency,
        coalesce(min(v.date), d.date) as date,
        jsonb_agg(jsonb_build_object('cost', (l.net + l.burden)::text, 'quantity',
          l.quantity::text, 'left', (l.quantity - l.invoiced)::text) order by l.no) as lines
      from document d join purchase_order o on o.document_id = d.id
        join order_line l on l.order_id = d.id and l.invoiced < l.quantity
        left join partner p on p.id = o.partner_id
        left join payment_terms t on t.code = p.terms
        left join lateral (select max((x ->> 'date')::date) as date
          from jsonb_array_elements(l.deliveries) x) v on true
      where d.company_id = ${companyId} and d.kind = 'order' and d.status = 'open'
      group by d.id, d.number, p.code, t.terms, d.currency, d.date order by d.id`,
  );
  return found.map(({ lines, id, ...o }) => ({
    ...o,
    id: Number(id),
    amount: minor(
      lines.reduce(
        (t, l) => t + proportion(minor(BigInt(l.cost)), BigInt(l.left), BigInt(l.quantity)),
        0n,
      ),
    ),
  }));
}
