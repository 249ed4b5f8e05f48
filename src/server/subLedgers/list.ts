import type { ControlKind } from "@/core/ledger";
import { assetIntake, assets } from "../assets";
import type { SubLedger } from "../checks";
import { moneyUnderWay, payables, receivables } from "../openItems";
import { received } from "../purchasing";

/**
 * The list behind each kind of control account. Null where there is none to hold against the
 * accounts: taxes are held against the journals that book them, what companies owe each other
 * against the other company, and banks and stock keep no list yet.
 */
const BEHIND: Readonly<Record<ControlKind, SubLedger | null>> = {
  payables,
  receivables,
  transit: moneyUnderWay,
  GRNI: received,
  tax: null,
  intercompany: null,
  bank: null,
  asset: assets,
  intake: assetIntake,
  stock: null,
};

export const SUB_LEDGERS: readonly SubLedger[] = Object.values(BEHIND).filter((s) => s !== null);
