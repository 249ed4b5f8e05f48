import { sql } from "drizzle-orm";
import { NAMED, type Check } from "../../checks";
import { rows, type Db } from "../../db";

export async function references(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select 'journal ' || j.number || ' has no register entry of its own' as fault from journal j
      left join document d on d.id = j.id where d.id is null or d.number is distinct
      from j.number or d.status not in ('posted', 'reversed')
        union all
          select 'journal ' || j.number || ' and its register entry differ in company, day, amount or
          currency' from journal j join document d on d.id = j.id
          join company c on c.id = j.company_id
          where (d.company_id, d.date, d.amount, d.currency)
          is distinct from (j.company_id, j.date, j.total, c.currency)
        union all
          select 'invoice ' || d.number || ' belongs to another company than journal ' || j.number
          from invoice i join document d on d.id = i.document_id join journal j on j.id = i.journal_id
          where d.company_id <> j.company_id
        union all
          select d.kind || ' ' || d.number || ' stands in the register with another partner'
          from document d left join invoice i on i.document_id = d.id
          left join payment y on y.document_id = d.id left join partner p on p.code = y.partner
          where d.kind in ('invoice', 'payment') and d.number is not null
          and d.partner_id is distinct from coalesce(i.partner_id, p.id)
        union all
          select 'document ' || d.number || ' is marked reversed, and no journal reverses it'
          from document d where d.kind = 'journal' and d.status = 'reversed'
          and not exists (select 1 from journal r where r.reverses_id = d.id)
        union all select 'journal ' || j.number || ' is reversed and not marked so' from journal r
          join journal j on j.id = r.reverses_id join document d on d.id = j.id
          where d.status <> 'reversed'
        union all
          select 'a line of journal ' || l.journal_id ||
          ' names an account, a coding or a journal that is not there' from journal_line l left
          join account a on a.id = l.account_id left join coding k on k.id = l.coding_id left
          join journal j on j.id = l.journal_id where a.id is null or k.id is null or j.id is null
        union all select 'draft ' || d.id || ' has neither content nor journal' from document d
          where d.kind = 'journal' and d.status in ('draft', 'waiting') and not exists (select 1
          from journal_draft x where x.document_id = d.id)
        limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from document`);
  return {
    name: "References lead to what is there",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}
