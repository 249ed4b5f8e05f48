import type { DeferralPolicy } from "@/core/receivables";
import { readSetting, type Db } from "../../db";

export const DEFERRAL_SETTING = "receivables.deferral";

/** Where revenue waits until it is earned, and how; null where nothing is set up for it. */
export async function readDeferral(tx: Db): Promise<DeferralPolicy | null> {
  const set = await readSetting<DeferralPolicy>(tx, DEFERRAL_SETTING);
  return set && set.account !== "" ? set : null;
}
