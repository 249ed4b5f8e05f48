import { boolean, number, object } from "yup";

export const backupPlanSchema = object({
  on: boolean().required(),
  hour: number().integer().min(0).max(23).required().label("Hour"),
  keep: number().integer().min(1).max(365).required().label("Backups kept"),
});

/** When backups are made by themselves. */
export interface BackupPlan {
  /** Whether they are made at all. */
  on: boolean;
  /** The hour of the day, 0 to 23, from which one is due. */
  hour: number;
  /** How many are kept; older ones are deleted. */
  keep: number;
}

const HOUR = 3_600_000;

/**
 * Whether a backup is due: the hour of today has come, and none was made since it came last. Hours
 * are those of `now` moved by `offset` minutes (east of UTC is positive), so that it runs at night
 * where the machine stands.
 * @param last when the last one was made; null for never
 */
export function isBackupDue(
  plan: BackupPlan,
  last: Date | null,
  now: Date,
  offset: number,
): boolean {
  if (!plan.on) return false;
  if (last === null) return true;
  const here = new Date(now.getTime() + offset * 60_000);
  const today = Date.UTC(here.getUTCFullYear(), here.getUTCMonth(), here.getUTCDate(), plan.hour);
  const came = here.getTime() >= today ? today : today - 24 * HOUR;
  return last.getTime() + offset * 60_000 < came;
}
