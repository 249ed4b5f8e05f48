import { sql } from "drizzle-orm";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf, rows, type Db } from "../db";

/** What was said with a customer or supplier of a company, as a thing that files hang on. */
export interface SaidOf {
  id: number;
  company: string;
  partner: number;
  by: number;
}

/** What was said with a customer, where the person may see it in its company. */
export async function findSaid(context: Context, id: number): Promise<Result<SaidOf>> {
  const [row] = await rows<SaidOf>(
    context.tx,
    sql`select r.id, c.code as company, r.partner_id as partner, r.person_id as by
      from remark r join company c on c.id = r.company_id where r.id = ${id}::bigint`,
  );
  if (!row) return fail({ code: "NOT_FOUND", what: "such remark" });
  return context.may("read.receivables", row.company)
    ? ok(row)
    : fail({ code: "FORBIDDEN", what: `see what was said with customers of ${row.company}` });
}

/** A file that came with what was said. */
export interface SaidFile {
  id: number;
  name: string;
}

/** Files of remarks, by the remark. */
export async function filesSaid(
  tx: Db,
  remarks: readonly number[],
): Promise<ReadonlyMap<number, readonly SaidFile[]>> {
  const found = await rows<SaidFile & { remark: number }>(
    tx,
    sql`select id, name, remark_id as remark from attachment
      where remark_id = any(${arrayOf(remarks)}::int[]) order by id`,
  );
  const by = new Map<number, SaidFile[]>();
  for (const { remark, ...file } of found) by.set(remark, [...(by.get(remark) ?? []), file]);
  return by;
}
