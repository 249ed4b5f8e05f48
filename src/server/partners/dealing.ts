import { sql } from "drizzle-orm";
import type { Context } from "../access";
import { arrayOf, rows } from "../db";

/** Companies that have dealt with partners: they owe or are owed, have ordered, or wait for it. */
export async function dealingWith({ tx }: Context, codes: readonly string[]): Promise<string[]> {
  const these = sql`any(${arrayOf(codes)}::text[])`;
  const found = await rows<{ code: string }>(
    tx,
    sql`select c.code from company c where exists (select 1 from open_item i
        where i.company_id = c.id and i.partner = ${these})
      or exists (select 1 from invoice v join document d on d.id = v.document_id
        join partner p on p.id = v.partner_id where d.company_id = c.id and p.code = ${these})
      or exists (select 1 from purchase_order o join document d on d.id = o.document_id
        join partner p on p.id = o.partner_id where d.company_id = c.id and p.code = ${these})`,
  );
  return found.map((f) => f.code);
}
