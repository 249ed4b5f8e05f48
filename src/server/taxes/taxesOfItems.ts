import { sql } from "drizzle-orm";
import type { ItemTax } from "@/core/taxes";
import { arrayOf, rows, type Db } from "../db";

/**
 * What the taxes of the documents behind open items came to, by item: what a discount takes back is
 * a part of it. What is kept back by the buyer is no part.
 */
export async function taxesOfItems(
  tx: Db,
  items: readonly (number | bigint)[],
): Promise<ReadonlyMap<number, ItemTax[]>> {
  const taxes = new Map<number, ItemTax[]>();
  if (items.length === 0) return taxes;
  const found = await rows<ItemTax & { item: bigint }>(
    tx,
    // Owed by the buyer: bought, it stands on both accounts; sold, on none.
    sql`select i.id as item, r.tax_code as code, r.base, r.tax, r.recoverable,
      r.functional_base as "functionalBase", r.functional_tax as "functionalTax", r.account,
      r.owed_account as "owedAccount",
      (case r.direction when 'sale' then r.owed_account = '' else r.owed_account <> '' end) as reverse
      from open_item i join tax_record r on r.document_id = i.document_id
        join tax_code c on c.code = r.tax_code
      where i.id = any(${arrayOf([...new Set(items)])}::bigint[]) and c.kind <> 'withheld'
      order by r.id`,
  );
  for (const { item, ...t } of found) {
    const of = Number(item);
    taxes.set(of, [...(taxes.get(of) ?? []), t]);
  }
  return taxes;
}
