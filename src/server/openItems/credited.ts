import { sql } from "drizzle-orm";

/**
 * What open credit notes that correct the document of an item take off it: the item's share of
 * them, by its part of what the document comes to. For a query with open_item as i.
 * Looked for only where a discount could be lowered by it: most items of an ageing have none.
 */
export const credited = sql`case when i.discounts = '[]'::jsonb then 0 else
  coalesce((select round(sum(c.left_amount)::numeric
  * abs(i.amount) / nullif(abs(max(v.amount)), 0))::bigint
  from document_link k join open_item c on c.document_id = k.from_id
  join document n on n.id = k.from_id and n.status = 'posted' join document v on v.id = k.to_id
  where k.kind = 'corrects' and k.to_id = i.document_id and c.left_amount > 0), 0) end`;
