import { sql, type SQL } from "drizzle-orm";

/** The last level of an item, its day, and up to when interest was charged: of posted runs. */
export const remindedOf = (item: SQL): SQL => sql`select max(x.level) as level,
    max(c.date) as on, max(x.interest_to) as interest_to
  from letter_item x join customer_letter c on c.id = x.letter_id
    join document d on d.id = c.run_id and d.status = 'posted'
  where x.item_id = ${item}`;
