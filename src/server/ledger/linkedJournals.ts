import { sql } from "drizzle-orm";
import { arrayOf, rows, type Db } from "../db";
import { documentLinks } from "../documents";

export interface LinkedJournal {
  id: number;
  number: string;
  company: string;
}

/** The journals of other companies that were posted with each of these. */
export async function linkedJournals(
  tx: Db,
  ids: readonly (bigint | number)[],
): Promise<ReadonlyMap<number, LinkedJournal[]>> {
  const lists = new Map<number, LinkedJournal[]>(ids.map((id) => [Number(id), []]));
  const found = await rows<{ of: bigint; id: bigint; number: string; company: string }>(
    tx,
    sql`with given as (select x.id, coalesce((select l.from_id from document_link l
      where l.kind = 'together' and l.to_id = x.id), x.id) as leader
      from unnest(${arrayOf(ids)}::bigint[]) as x(id))
        select g.id as of, d.id, d.number, c.code as company from given g
          join lateral (select g.leader as id union select l.to_id from document_link l
            where l.kind = 'together' and l.from_id = g.leader) m on m.id <> g.id
          join document d on d.id = m.id join company c on c.id = d.company_id order by d.id`,
  );
  for (const f of found)
    lists.get(Number(f.of))!.push({ id: Number(f.id), number: f.number, company: f.company });
  return lists;
}

/**
 * Remembers, for each of these groups, that its journals of several companies were posted together,
 * the first one leading.
 */
export const linkJournals = (tx: Db, groups: readonly (readonly number[])[]): Promise<void> =>
  documentLinks(
    tx,
    "together",
    groups.flatMap(([first, ...others]) => others.map((id) => [first!, id] as const)),
  );
