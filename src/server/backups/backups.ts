import path from "node:path";
import { object } from "yup";
import { backupPlanSchema, type BackupPlan } from "@/core/backups";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { readSetting, writeSetting, type Db } from "../db";
import { backupState, type BackupState } from "./running";
import { backupsIn } from "./backupFiles";

/** The setting that holds the plan, and the plan where none was chosen. */
const KEY = "backup-plan";
const PLAN: BackupPlan = { on: true, hour: 2, keep: 14 };

export const readPlan = async (tx: Db): Promise<BackupPlan> =>
  (await readSetting<BackupPlan>(tx, KEY)) ?? PLAN;

export interface BackupView {
  /** Why none can be made here; null where they can. */
  instead: string | null;
  folder: string;
  plan: BackupPlan;
  state: BackupState;
  backups: {
    name: string;
    at: string;
    bytes: number;
    sha256: string;
    by: string;
    seal: number;
    faults: string[];
  }[];
}

/** Use cases know neither the kind of the database nor the data folder; their door tells both. */
export const showBackups = (
  folder: string,
  kind: "embedded" | "server",
): Pick<BackupView, "instead" | "folder" | "state" | "backups"> => ({
  instead:
    kind === "server"
      ? "These books are kept by a PostgreSQL server, which is backed up with its own tools (pg_dump)."
      : null,
  folder,
  state: backupState(),
  backups: backupsIn(folder).map(({ file, heads: _heads, ...note }) => ({
    name: path.basename(file),
    ...note,
  })),
});

/** When backups come by themselves. */
export const getBackupPlan = defineUseCase({
  name: "getBackupPlan",
  kind: "read",
  rights: ["setup.people"],
  what: "see backups",
  of: "group",
  schema: object(),
  run: async ({ tx }): Promise<Result<BackupPlan>> => ok(await readPlan(tx)),
});

/** Whether the person may have a backup made; that they asked is noted. */
export const askForBackup = defineUseCase({
  name: "askForBackup",
  kind: "write",
  rights: ["setup.people"],
  what: "back the books up",
  of: "group",
  schema: object(),
  run: async ({ audit }): Promise<Result<null>> => {
    if (backupState().step !== null)
      return fail({ code: "INVALID", what: "A backup is being made already" });
    await audit({ action: "asked for a backup", kind: "backup", recordId: "now" });
    return ok(null);
  },
});

export const saveBackupPlan = defineUseCase({
  name: "saveBackupPlan",
  kind: "write",
  rights: ["setup.people"],
  what: "change when backups are made",
  of: "group",
  schema: backupPlanSchema,
  run: async ({ tx, audit }, { on, hour, keep }): Promise<Result<null>> => {
    const before = await readPlan(tx);
    const after: BackupPlan = { on, hour, keep };
    await writeSetting(tx, KEY, after);
    await audit({ action: "changed", kind: "backup plan", recordId: 1, before, after });
    return ok(null);
  },
});
