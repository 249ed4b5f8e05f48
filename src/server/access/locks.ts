import { sql } from "drizzle-orm";
import { arrayOf, rows, type Db } from "../db";

export interface ChainHead {
  companyId: number;
  code: string;
  seq: bigint;
  hash: string;
  /** When the newest journal of the chain was posted. */
  lastPostedAt: string | null;
}

/**
 * Locks the chains of companies, always in the order of their codes: one after the other posts, and
 * no two wait for each other. Whoever holds them reads what will still be so when it is posted.
 */
export const lockChains = (tx: Db, companies: readonly string[]): Promise<ChainHead[]> =>
  rows<ChainHead>(
    tx,
    sql`select c.company_id as "companyId", k.code, c.seq, c.hash,
      c.last_posted_at as "lastPostedAt" from chain c join company k on k.id = c.company_id
        where k.code = any(${arrayOf(companies)}::text[]) order by k.code for update of c`,
  );

/** What a document says as far as it names companies. */
interface Written {
  company?: string;
  lines?: readonly { company?: string | undefined }[];
}

/**
 * The companies that an act on documents may post in: those of the documents, of what they say or
 * have made, and of the journals that were posted together with these.
 */
export async function companiesOf(
  tx: Db,
  documents: readonly (number | undefined)[],
  written: Written = {},
): Promise<string[]> {
  const ids = documents.filter((d): d is number => d !== undefined);
  const found =
    ids.length === 0
      ? []
      : await rows<{ code: string }>(
          tx,
          sql`with given as (select x.id from unnest(${arrayOf(ids)}::bigint[]) as x(id)
              union select d.document_id from journal_draft d
                where d.batch_id = any(${arrayOf(ids)}::bigint[])
              union select l.to_id from document_link l
                where l.from_id = any(${arrayOf(ids)}::bigint[]) and l.kind in ('made', 'batch')),
            family as (select id from given
              union select l.from_id from document_link l join given g on g.id = l.to_id
                where l.kind = 'together'
              union select l.to_id from document_link l join given g on g.id = l.from_id
                where l.kind = 'together'
              union select p.document_id from payment p
                where p.run_id = any(${arrayOf(ids)}::bigint[])),
            said as (select d.content from journal_draft d join family f on f.id = d.document_id
              union all select i.content from invoice i join family f on f.id = i.document_id)
          select distinct c.code from company c where c.id in (
              select d.company_id from document d join family f on f.id = d.id)
            or c.code in (select s.content->>'company' from said s)
            or c.code in (select e->>'company' from said s, jsonb_array_elements(s.content->'lines') e)
            or c.id in (select b.company_id from run r join bank_account b
              on b.code = r.params->>'bank' where r.id = any(${arrayOf(ids)}::bigint[]))`,
        );
  return [
    ...new Set([
      ...found.map((f) => f.code),
      ...(written.company ? [written.company] : []),
      ...(written.lines ?? []).flatMap((l) => (l.company ? [l.company] : [])),
    ]),
  ];
}
