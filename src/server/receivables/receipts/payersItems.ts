import { sql } from "drizzle-orm";
import type { ItemToTake } from "../../banks";
import { itemsOfLines } from "../../banks";
import { minor, type CalendarDate, type Minor } from "@/core/shared";
import { arrayOf, rows, type Db } from "../../db";

/**
 * An open item that a payer can pay: its own, or that of a customer that it is the head office of.
 */
export interface PayersItem extends ItemToTake {
  /** What of it is in dispute. */
  disputed: Minor;
  date: string;
}

/** An open item that a payer owes in another currency than it pays. */
export interface ItemElsewhere {
  id: number;
  reference: string;
  partnerName: string;
  due: CalendarDate;
  currency: string;
  left: Minor;
}

/** What a payer owes in other currencies than one, the oldest first. */
export async function itemsElsewhere(
  tx: Db,
  companyId: number,
  currency: string,
  payer: string,
): Promise<ItemElsewhere[]> {
  const found = await rows<Omit<ItemElsewhere, "id" | "left"> & { id: bigint; left: bigint }>(
    tx,
    sql`select i.id, i.reference, p.name as "partnerName", i.due_date as due, i.currency,
        i.left_amount as "left"
      from partner p join open_item i on i.partner = p.code
      where (p.code = ${payer} or p.head_office = ${payer}) and i.company_id = ${companyId}
        and i.currency <> ${currency} and i.area = 'receivables' and i.left_amount > 0
        and i.kind = 'invoice' order by i.due_date, i.id limit 50`,
  );
  return found.map((f) => ({ ...f, id: Number(f.id), left: minor(f.left) }));
}

/** What payers can pay in a company in one currency, the oldest first, by payer. */
export async function itemsOfPayers(
  tx: Db,
  companyId: number,
  currency: string,
  payers: readonly string[],
): Promise<Map<string, PayersItem[]>> {
  const found = await rows<{ id: bigint; payer: string; date: string; disputed: bigint }>(
    tx,
    sql`select i.id, x.payer, i.date, least(i.left_amount, coalesce((select sum(d.amount)
          from dispute d where d.item_id = i.id and d.outcome is null), 0))::bigint as disputed
      from unnest(${arrayOf([...new Set(payers)])}::text[]) as x(payer)
        join partner p on p.code = x.payer or p.head_office = x.payer
        join open_item i on i.partner = p.code
      where i.company_id = ${companyId} and i.currency = ${currency}
        and i.area = 'receivables' and i.left_amount <> 0
      order by i.due_date, i.id`,
  );
  const items = new Map(
    (
      await itemsOfLines(
        tx,
        companyId,
        found.map((f) => Number(f.id)),
      )
    ).map((i) => [i.id, i]),
  );
  const byPayer = new Map<string, PayersItem[]>(payers.map((p) => [p, []]));
  for (const { id, payer, date, disputed } of found) {
    const item = items.get(Number(id));
    if (item) byPayer.get(payer)!.push({ ...item, date, disputed: minor(disputed) });
  }
  return byPayer;
}
