import { sql, type SQL } from "drizzle-orm";
import { nearly } from "../desk/deskFacts";

/** The last level of an item, its day, and up to when interest was charged: of posted runs. */
export const remindedOf = (item: SQL): SQL => sql`select max(x.level) as level,
    max(c.date) as on, max(x.interest_to) as interest_to
  from letter_item x join customer_letter c on c.id = x.letter_id
    join document d on d.id = c.run_id and d.status = 'posted'
  where x.item_id = ${item}`;

/** The same of all items of some customers of a company (and of others), to be joined to them. */
export const remindedItems = (companyId: number, customers: readonly string[]): SQL =>
  sql`select x.item_id, max(x.level) as level, max(c.date) as on, max(x.interest_to) as interest_to
  from customer_letter c join document d on d.id = c.run_id and d.status = 'posted'
    join letter_item x on x.letter_id = c.id
  where c.company_id = ${companyId} and ${nearly(sql`c.partner`, customers)}
  group by x.item_id`;
