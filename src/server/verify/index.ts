import type { Check, VerifyCheck } from "../checks";
import type { Db } from "../db";
import { moneyAgainstJournals, reconciliationsHold } from "../banks";
import { faultsOfSeals } from "../evidence";
import { LEDGER_CHECKS } from "../ledger";
import { itemsAgainstAllocations } from "../openItems";
import { aheadAgainstJournals } from "../receivables";
import { listsAgainstAccounts } from "../subLedgers";
import { taxesAgainstAccounts } from "../taxes";

const whatWasSealed: VerifyCheck = async (tx) => ({
  name: "What was sealed is what it was",
  ...(await faultsOfSeals(tx)),
});

/** All that is verified, in the order in which people read it. */
const CHECKS: readonly VerifyCheck[] = [
  ...LEDGER_CHECKS,
  listsAgainstAccounts,
  itemsAgainstAllocations,
  taxesAgainstAccounts,
  aheadAgainstJournals,
  reconciliationsHold,
  moneyAgainstJournals,
  whatWasSealed,
];

/**
 * Rebuilds what can be rebuilt and compares: balances with lines, each company's chain with its
 * journals, numbers, references, lists with their control accounts, what was sealed. Reads only.
 */
export async function verify(tx: Db): Promise<Check[]> {
  const found: Check[] = [];
  for (const check of CHECKS) found.push(...[await check(tx)].flat());
  return found;
}
