import { sql } from "drizzle-orm";
import type { PayableItem, PayableSupplier } from "@/core/payables";
import { minor, type CalendarDate } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { credited } from "../openItems";
import { taxesOfItems } from "../taxes";
import type { Context } from "../access";

interface ItemRow {
  id: bigint;
  account: string;
  partner: string;
  currency: string;
  amount: bigint;
  left: bigint;
  leftFunctional: bigint;
  kind: string;
  reference: string;
  date: CalendarDate;
  due: CalendarDate;
  discounts: { until: string; percent: string; amount: string }[];
  hold: string;
  paidBack: boolean;
  credited: bigint;
}

/**
 * Open items of a company's suppliers that a run could pay: those of liabilities; of a run that is
 * there, only what it has shown; where it is wanted, what is paid back to customers. Three queries,
 * whatever their number.
 */
export async function payableItems(
  { tx }: Context,
  companyId: number,
  options: {
    run?: number | undefined;
    only?: readonly number[];
    suppliers?: readonly string[];
    /** Also what customers have paid too much, or are credited: it is paid back. */
    credits?: boolean;
  } = {},
): Promise<PayableItem[]> {
  const { run, only = [], suppliers = [], credits = false } = options;
  const payable = sql`(i.area = 'payables' and a.type = 'liability')`;
  const paidBack = sql`(i.area = 'receivables' and i.left_amount < 0)`;
  const found = await rows<ItemRow>(
    tx,
    sql`select i.id, a.number as account, i.partner, i.currency, i.amount, i.left_amount as "left",
      i.left_functional as "leftFunctional", i.kind, i.reference, i.date, i.due_date as due,
      i.discounts, i.hold, ${credited} as credited, i.area = 'receivables' as "paidBack"
        from open_item i join account a on a.id = i.account_id
        where i.company_id = ${companyId} and i.left_amount <> 0
          and ${credits ? sql`(${payable} or ${paidBack})` : payable} and i.partner <> ''
          ${
            run === undefined
              ? sql``
              : sql`and 'item|' || i.id in (select x.key from run_item x where x.run_id = ${run})`
          }
          ${only.length === 0 ? sql`` : sql`and i.id = any(${arrayOf(only)}::bigint[])`}
            ${
              suppliers.length === 0
                ? sql``
                : sql`and i.partner =
            any(${arrayOf(suppliers)}::text[])`
            } order by i.id`,
  );
  const reserved = new Map(
    (
      await rows<{ key: string; number: string }>(
        tx,
        sql`select v.key, d.number from run_item v
          join document d on d.id = v.run_id
          where v.taken_as = 'payment' and v.run_id <> ${run ?? 0}`,
      )
    ).map((r) => [r.key, r.number]),
  );
  // Of items chosen by hand, a discount may be had that no terms grant.
  const taxes = await taxesOfItems(
    tx,
    found.filter((f) => f.discounts.length > 0 || only.length > 0).map((f) => f.id),
  );
  return found.map((f) => ({
    ...f,
    id: Number(f.id),
    amount: minor(f.amount),
    left: minor(f.left),
    leftFunctional: minor(f.leftFunctional),
    credited: minor(f.credited),
    discounts: f.discounts.map((d) => ({ ...d, amount: minor(BigInt(d.amount)) })),
    takenBy: reserved.get(`item|${f.id}`) ?? null,
    taxes: taxes.get(Number(f.id)) ?? [],
  }));
}

/**
 * How suppliers are paid: their method, and the bank account that a second person has confirmed.
 */
export async function payableSuppliers(
  { tx }: Context,
  codes: readonly string[],
): Promise<Map<string, PayableSupplier>> {
  const found = await rows<PayableSupplier>(
    tx,
    sql`select p.code, p.name, p.method, p.hold, p.blocked, coalesce(b.iban, '') as iban,
      coalesce(b.bic, '') as bic, coalesce(b.number, '') as number,
      coalesce(b.routing, '') as routing, coalesce(b.country, '') as country,
      coalesce(b.holder, '') as holder, b.id as "bankId", p.city as town, p.purpose,
      exists (select 1 from partner_bank w
      where w.partner_id = p.id and w.state = 'waiting') as "bankWaits"
        from partner p left join lateral (select id, iban, bic, number, routing, country, holder from partner_bank
          where partner_id = p.id and state = 'confirmed' order by id desc limit 1) b on true
          where p.code = any(${arrayOf([...new Set(codes)])}::text[])`,
  );
  return new Map(found.map((f) => [f.code, f]));
}
