import { sql } from "drizzle-orm";
import { minor, type Minor } from "@/core/shared";
import { rows, type Db } from "../db";

/** What of a document's items is owed in another currency by now, and what is left of that. */
export interface OwedElsewhere {
  currency: string;
  /** With the sign of items: what is owed to us is positive. */
  left: Minor;
}

/** By currency: items that took the place of a document's, and those that took theirs. */
export async function owedElsewhere(tx: Db, document: number): Promise<OwedElsewhere[]> {
  const found = await rows<{ currency: string; left: bigint }>(
    tx,
    sql`with recursive owed as (
        select i.id, i.currency, 0::bigint as "left", 0 as depth from open_item i
          where i.document_id = ${document}::bigint
        union
        select n.id, n.currency, n.left_amount, o.depth + 1 from owed o
          join allocation_line l on l.item_id = o.id
          join allocation a on a.id = l.allocation_id and a.kind = 'restatement'
            and not exists (select 1 from allocation u where u.undoes_id = a.id)
          join open_item n on n.journal_id = a.journal_id and n.currency <> o.currency)
      select currency, sum("left")::bigint as "left" from
        (select distinct id, currency, "left" from owed where depth > 0) o
      group by currency order by currency`,
  );
  return found.map(({ currency, left }) => ({ currency, left: minor(left) }));
}
