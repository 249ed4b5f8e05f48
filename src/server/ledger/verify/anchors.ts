import { sql } from "drizzle-orm";
import { NAMED, type Check } from "../../checks";
import { rows, type Db } from "../../db";

/**
 * Heads of the chain that were noted when periods changed their state must still be in the chain.
 */
export async function anchors(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select 'the anchor of ' || c.at::text || ' at journal ' || c.chain_seq || ' no longer fits'
      as fault from close_record c left join journal j on j.company_id = c.company_id
      and j.seq = c.chain_seq
        where c.chain_seq > 0 and j.hash is distinct from c.chain_hash limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from close_record`);
  return {
    name: "Close records anchor the chain",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}
