import type { VerifyCheck } from "../../checks";
import { anchors } from "./anchors";
import { balancesAgainstLines, codingsAgainstLines } from "./balances";
import { chains } from "./chains";
import { journalsBalance } from "./journals";
import { numbering } from "./numbers";
import { references } from "./references";

/** What can be rebuilt of the ledger itself, and compared. */
export const LEDGER_CHECKS: readonly VerifyCheck[] = [
  balancesAgainstLines,
  codingsAgainstLines,
  journalsBalance,
  chains,
  numbering,
  references,
  anchors,
];
