import { sql } from "drizzle-orm";
import { amountText, dateText, minor } from "@/core/shared";
import { NAMED, type Check } from "../../checks";
import { rows, type Db } from "../../db";
import { positionsOf, type Bank } from "./bankPosition";

/** A reconciliation that stands says what bank and ledger say today of its day. */
export async function reconciliationsHold(tx: Db): Promise<Check> {
  const standing = await rows<
    Bank & { companyId: number; date: string; said: bigint; held: bigint }
  >(
    tx,
    sql`select distinct on (b.id) b.id, b.code, b.name, b.currency, b.account,
        r.company_id as "companyId", r.date, r.bank as said, r.ledger as held
      from reconciliation r join bank_account b on b.id = r.bank_account_id
      where r.reopened_at is null order by b.id, r.date desc`,
  );
  const faults: string[] = [];
  // The latest of each account: what it holds, those before it hold as well.
  const places = new Map<string, typeof standing>();
  for (const s of standing) {
    const key = `${s.companyId} ${s.date}`;
    places.set(key, [...(places.get(key) ?? []), s]);
  }
  for (const group of places.values()) {
    const { companyId, date } = group[0]!;
    const positions = await positionsOf(tx, companyId, group, date);
    for (const [i, now] of positions.entries()) {
      const { said, held } = group[i]!;
      const text = (amount: bigint) => amountText(minor(amount), now.currency);
      if (now.bank?.amount !== said || now.ledger !== held || now.unexplained !== 0n)
        faults.push(
          `${now.code} on ${dateText(date)}: bank ${text(said)} and ledger ${text(held)} when it was closed, now ${now.bank ? text(now.bank.amount) : "none"} and ${text(now.ledger)}`,
        );
    }
  }
  return {
    name: "Closed bank reconciliations still hold",
    looked: standing.length,
    faults: faults.slice(0, NAMED),
  };
}
