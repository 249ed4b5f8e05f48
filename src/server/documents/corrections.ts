import { sql } from "drizzle-orm";
import type { Context } from "../access";
import { rows } from "../db";

/** The invoice that a posted credit note corrects, and the credit notes that correct an invoice. */
export async function linkedCorrections(
  { tx }: Context,
  id: number,
): Promise<{ corrects: DocumentName | null; correctedBy: DocumentName[] }> {
  const found = await rows<DocumentName & { up: boolean }>(
    tx,
    sql`select d.id::int as id, coalesce(d.number, '') as number, l.from_id = ${id} as up
      from document_link l
      join document d on d.id = case when l.from_id = ${id} then l.to_id else l.from_id end
      where l.kind = 'corrects' and (l.from_id = ${id} or l.to_id = ${id}) and d.status = 'posted'
      order by d.id`,
  );
  const names = (up: boolean) =>
    found.filter((f) => f.up === up).map(({ id, number }) => ({ id, number }));
  return { corrects: names(true)[0] ?? null, correctedBy: names(false) };
}
export interface DocumentName {
  id: number;
  number: string;
}
