import { sql } from "drizzle-orm";
import { arrayOf, rows, type Db } from "../db";

export interface PartnerName {
  id: number;
  code: string;
  name: string;
  /** What payments to it are for (ISO 20022); "" where their kind says it. */
  purpose: string;
  customer: boolean;
}

/** Partners by the codes that were written; a code that nobody has is left out. */
export async function partnersByCode(
  tx: Db,
  codes: readonly string[],
): Promise<ReadonlyMap<string, PartnerName>> {
  const wanted = [...new Set(codes.map((c) => c.trim()))].filter((c) => c !== "");
  const found = await rows<PartnerName>(
    tx,
    sql`select id, code, name, purpose, customer from partner where code = any(${arrayOf(wanted)}::text[])`,
  );
  return new Map(found.map((p) => [p.code, p]));
}
