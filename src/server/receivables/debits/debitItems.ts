import { sql } from "drizzle-orm";
import type { DebitItem } from "@/core/receivables";
import { minor, type CalendarDate } from "@/core/shared";
import { arrayOf, rows, type Db } from "../../db";
import { itemStates } from "../desk/deskFacts";
import { itemToPay } from "../receipts/proposeReceipt";
import { itemsOfPayers, type PayersItem } from "../receipts/payersItems";

/** An open item that can be debited, with what its journal needs of it. */
export interface ItemToDebit {
  plan: DebitItem;
  item: PayersItem;
}

/**
 * What customers with mandates, and those that they pay for, have open in euro; of a run that is
 * there only what it has shown. A branch that has a mandate of its own pays by that. Four queries,
 * whatever their number.
 */
export async function itemsToDebit(
  tx: Db,
  of: {
    companyId: number;
    payers: readonly string[];
    /** Everybody who has a mandate. */
    holders: ReadonlySet<string>;
    on: CalendarDate;
    run: number | undefined;
  },
): Promise<ItemToDebit[]> {
  const { companyId, payers, holders, on, run } = of;
  const byPayer = await itemsOfPayers(tx, companyId, "EUR", payers);
  const owing = [...new Set([...byPayer.values()].flat().map((i) => i.partner))];
  const promised = new Map(
    (
      await rows<{ id: bigint; promised: bigint; on: CalendarDate }>(
        tx,
        sql`select s.id, s.promised, s.promised_for as "on"
          from (${itemStates(companyId, on, owing)}) s where s.promised > 0`,
      )
    ).map((p) => [Number(p.id), p]),
  );
  const runs = new Map(
    (
      await rows<{ item: bigint; own: boolean; other: string | null }>(
        tx,
        sql`select split_part(v.key, '|', 2)::bigint as item, bool_or(v.run_id = ${run ?? 0}) as own,
            max(d.number) filter (where v.run_id <> ${run ?? 0}) as other
          from run_item v join document d on d.id = v.run_id
          where v.key = any(${arrayOf([...byPayer.values()].flat().map((i) => keyOf(i.id)))}::text[])
            and (v.run_id = ${run ?? 0} or v.taken_as = 'direct-debit')
          group by 1`,
      )
    ).map((r) => [Number(r.item), r]),
  );
  return [...byPayer].flatMap(([payer, items]) =>
    items.flatMap((item): ItemToDebit[] => {
      const taken = runs.get(item.id);
      if (run !== undefined && !taken?.own) return [];
      if (item.partner !== payer && holders.has(item.partner)) return [];
      const { discount, late } = itemToPay(item, on);
      const promise = promised.get(item.id);
      return [
        {
          item,
          plan: {
            id: item.id,
            payer,
            date: item.date,
            due: item.due,
            left: item.left,
            disputed: item.disputed,
            promised: minor(promise?.promised ?? 0n),
            promisedFor: promise?.on ?? null,
            discount: late ? minor(0n) : discount,
            takenBy: taken?.other ?? null,
          },
        },
      ];
    }),
  );
}

/** By what an item is reserved while a run has it. */
export const keyOf = (item: number): string => `item|${item}`;
