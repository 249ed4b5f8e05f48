import { sql } from "drizzle-orm";
import { NAMED, type Check } from "../../checks";
import { rows, type Db } from "../../db";

export async function numbering(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    // Journals carry their serial; other documents whose series has the name of their kind have it
    // at the end of their number.
    sql`with taken as (
          select series, company_id, year_id, serial from journal
          union all select d.kind, d.company_id, y.id, substring(d.number from '[0-9]+$')::int
            from document d join number_series s on s.code = d.kind
            join fiscal_year y on y.company_id = d.company_id and right(y.name,
              2) = split_part(d.number, '-', 2) where d.kind <> 'journal' and d.number is not null)
        select concat_ws(' ', 'series', n.series, 'company', n.company_id, 'year', n.year_id, 'has',
          count(t.serial), 'numbers up to', coalesce(max(t.serial), 0), 'and the counter stands at',
          n.last) as fault
        from number_counter n left
          join taken t on t.series = n.series and t.company_id = n.company_id
          and t.year_id = n.year_id
        group by n.series, n.company_id, n.year_id, n.last
          having count(t.serial) <> n.last or coalesce(max(t.serial), 0) <> n.last limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from number_counter`);
  return { name: "Numbers run without gaps", looked: count!.n, faults: faults.map((f) => f.fault) };
}
