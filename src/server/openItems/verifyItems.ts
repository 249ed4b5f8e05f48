import { sql } from "drizzle-orm";
import { NAMED, type Check } from "../checks";
import { rows, type Db } from "../db";

/** What is left of an item is what it was made with less what allocations have taken. */
export async function itemsAgainstAllocations(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select concat_ws(' ', 'item', i.id, i.reference, 'left', i.left_amount, 'of',
      i.amount) as fault from open_item i left join (select item_id, sum(amount) as amount,
      sum(functional) as functional from allocation_line group by 1) t on t.item_id = i.id
        where i.amount - coalesce(t.amount, 0) <> i.left_amount
          or i.functional - coalesce(t.functional, 0) <> i.left_functional limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(
    tx,
    sql`select count(*)::int as n from allocation_line`,
  );
  return {
    name: "What is left of open items follows from their allocations",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}
