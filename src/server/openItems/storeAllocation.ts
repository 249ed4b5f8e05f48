import { sql, type SQL } from "drizzle-orm";
import type { AllocationLine } from "@/core/openItems";
import type { Context } from "../access";
import { arrayOf, insertAll, schema } from "../db";

/**
 * The instant from which an allocation is known: now, but never before the newest journal of the
 * company's chain, so that it is known neither before its own journal nor before its items. To be
 * used once the journals are posted, in a query over the chain.
 */
export const knownAt = (now: Date, chain: SQL = sql``): SQL =>
  sql`greatest(${now.toISOString()}::timestamptz, ${chain}last_posted_at)`;

/** Keeps what an allocation takes of its items, and takes it from them. */
export async function storeLines(
  { tx }: Context,
  allocationId: bigint,
  lines: readonly AllocationLine[],
): Promise<void> {
  await insertAll(
    tx,
    schema.allocationLine,
    lines.map((l) => ({
      allocationId: Number(allocationId),
      itemId: l.item,
      amount: l.amount,
      functional: l.functional,
    })),
  );
  const columns = sql`${arrayOf(lines.map((l) => l.item))}::bigint[],
    ${arrayOf(lines.map((l) => l.amount))}::bigint[],
    ${arrayOf(lines.map((l) => l.functional))}::bigint[]`;
  await tx.execute(
    sql`update open_item i set left_amount = i.left_amount - x.amount,
      left_functional = i.left_functional - x.functional from unnest(${columns}) as x(item, amount,
      functional) where i.id = x.item`,
  );
}
