import { sql } from "drizzle-orm";
import { NAMED, type Check } from "../checks";
import { rows, type Db } from "../db";

/**
 * What customers were asked for ahead, and what was set off of it, is what its documents have
 * posted on one account; no more is set off, and no more revenue released, than there was.
 */
export async function aheadAgainstJournals(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`with part as (
          select f.*, d.number, o.number as asked from prepayment f
            join document d on d.id = f.document_id and d.status = 'posted'
            join document o on o.id = f.of_id),
        posted as (
          select j.origin_id as document_id, l.company_id, l.account_id,
            sum(case l.side when 'C' then l.amount else -l.amount end) as amount
          from journal j join journal_line l on l.journal_id = j.id
          where j.origin_id in (select document_id from part) group by 1, 2, 3)
      select concat_ws(' ', number, 'asks for or sets off', sum(amount),
          'and posts that on no account') as fault
        from part p group by p.document_id, p.company_id, number
        having not exists (select 1 from posted x where x.document_id = p.document_id
          and x.company_id = p.company_id and x.amount = sum(p.amount))
      union all select concat_ws(' ', 'of prepayment', asked, tax_code, -sum(amount),
          'is set off beyond what was asked for')
        from part group by of_id, asked, tax_code having sum(amount) < 0
      union all select concat_ws(' ', 'deferral', f.id, 'of', f.amount, 'has released', r.amount)
        from deferral f join (select deferral_id, sum(amount) as amount from deferral_release
          group by 1) r on r.deferral_id = f.id
        where not (r.amount between least(f.amount, 0) and greatest(f.amount, 0))
      limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(
    tx,
    sql`select (select count(*) from prepayment)::int + (select count(*) from deferral)::int as n`,
  );
  return {
    name: "What customers pay ahead is what its invoices have posted",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}
