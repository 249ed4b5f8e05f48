import { sql } from "drizzle-orm";
import { NAMED, type Check } from "../checks";
import { rows, type Db } from "../db";
import { differences, type Difference } from "./differences";
import { SUB_LEDGERS } from "./list";

/**
 * Each list is what its control accounts hold, told apart as finely as the list knows: by company,
 * account, partner and currency, in the currency itself and in functional amounts.
 */
export async function listsAgainstAccounts(tx: Db): Promise<Check[]> {
  const checks: Check[] = [];
  for (const list of SUB_LEDGERS) {
    const [count] = await rows<{ n: number }>(
      tx,
      sql`select count(*)::int as n from (${list.movements}) m`,
    );
    checks.push({
      name: `${list.name}: the list equals its control accounts`,
      looked: count!.n,
      faults: (await differences(tx, list, {}, NAMED)).map(faultOf),
    });
  }
  return checks;
}

function faultOf(d: Difference): string {
  const place = [d.company, d.account && `account ${d.account}`, d.partner, d.currency, d.book];
  return `${place.filter(Boolean).join(" ")}: the accounts hold ${d.heldAmount} = ${d.held}, the list ${d.listedAmount} = ${d.listed}`;
}
