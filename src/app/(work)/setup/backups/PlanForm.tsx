"use client";
import { backupPlanSchema, type BackupPlan } from "@/core/backups";
import { FieldForm } from "@/app/lib/FieldForm";
import { faultsOf } from "@/ui/form";
import { saveBackupPlanAction } from "./actions";

/** When backups come by themselves, and how many are kept. */
export const PlanForm = ({ start }: { start: BackupPlan }) => (
  <FieldForm
    name="backup"
    title="Daily backup"
    fields={[
      { key: "on", label: "Back up every day", kind: "check" },
      { key: "hour", label: "From hour (0 to 23, server time)", kind: "text" },
      {
        key: "keep",
        label: "Backups kept",
        kind: "text",
        hint: "Older ones are deleted after a new one holds.",
      },
    ]}
    start={{ on: start.on, hour: String(start.hour), keep: String(start.keep) }}
    shows={({ on }) => ["on", "keep", ...(on ? ["hour"] : [])]}
    check={(values) => faultsOf(backupPlanSchema, values)}
    button="Save"
    main
    job={saveBackupPlanAction}
    done="Saved."
  />
);
