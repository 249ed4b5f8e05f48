import { sql } from "drizzle-orm";
import { NAMED, type Check } from "../../checks";
import { rows, type Db } from "../../db";

export async function journalsBalance(tx: Db): Promise<Check> {
  const faults = await rows<{ number: string }>(
    tx,
    sql`select j.number from journal j
      join (select journal_id, sum(case when currency = 'XXX' then 0 when side = 'D' then amount
      else -amount end) as net, sum(case when side = 'D' and currency <> 'XXX' then amount
      else 0 end) as debits, count(*) as n from journal_line group by 1) l on l.journal_id = j.id
        where l.net <> 0 or l.debits <> j.total or l.n <> j.line_count
        union all select number from journal j where not exists (select 1 from journal_line l
          where l.journal_id = j.id) limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from journal`);
  return {
    name: "Every journal balances and is whole",
    looked: count!.n,
    faults: faults.map((f) => `journal ${f.number}`),
  };
}
