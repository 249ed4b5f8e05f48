import { sql } from "drizzle-orm";
import { arrayOf, type Db } from "../db";

/**
 * Links pairs of documents of the register, from and to, in one statement. A link that is there
 * already stays.
 */
export async function documentLinks(
  tx: Db,
  kind: string,
  pairs: readonly (readonly [from: number, to: number])[],
): Promise<void> {
  if (pairs.length > 0)
    await tx.execute(
      sql`insert into document_link (from_id, to_id, kind) select f, t, ${kind}
        from unnest(${arrayOf(pairs.map((p) => p[0]))}::bigint[],
        ${arrayOf(pairs.map((p) => p[1]))}::bigint[]) as x(f, t) on conflict do nothing`,
    );
}
