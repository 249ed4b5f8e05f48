import { sql } from "drizzle-orm";
import type { BankAddress } from "@/core/banks";
import { rows, type Db } from "../db";

type Held = BankAddress & { holder: string };

/** Bank accounts that are confirmed or wait for that, by partner; the confirmed one comes first. */
export async function banksInForce(tx: Db): Promise<ReadonlyMap<number, readonly Held[]>> {
  const found = await rows<Held & { partner: number }>(
    tx,
    sql`select partner_id as partner, iban, bic, number, routing, country, holder
      from partner_bank where state in ('confirmed', 'waiting') order by state, id desc`,
  );
  const by = new Map<number, Held[]>();
  for (const { partner, ...bank } of found) by.set(partner, [...(by.get(partner) ?? []), bank]);
  return by;
}
