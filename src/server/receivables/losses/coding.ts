import type { Masters } from "@/core/ledger";
import { fail, ok, type Found, type Result } from "@/core/shared";
import { readSetting, type Db } from "../../db";

export const LOSS_DIMENSIONS = "losses.dimensions";

/** The values by dimension that losses of receivables are coded with. */
export const readLossDimensions = async (tx: Db): Promise<Record<string, string>> =>
  (await readSetting<Record<string, string>>(tx, LOSS_DIMENSIONS)) ?? {};

/** The accounts of losses and of the allowance for those that are expected. */
export function lossAccounts({
  purposes,
}: Masters): Result<{ badDebts: string; lossAllowance: string }> {
  const { badDebts, lossAllowance } = purposes;
  const missing: Found[] = [
    ...(badDebts ? [] : [{ code: "PURPOSE_MISSING", purpose: "bad debts" } as const]),
    ...(lossAllowance
      ? []
      : [{ code: "PURPOSE_MISSING", purpose: "the allowance for credit losses" } as const]),
  ];
  return missing.length > 0
    ? fail(missing[0]!, ...missing.slice(1))
    : ok({ badDebts: badDebts!, lossAllowance: lossAllowance! });
}
