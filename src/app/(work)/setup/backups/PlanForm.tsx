"use client";
import { useState } from "react";
import type { BackupPlan } from "@/core/backups";
import { useAct } from "@/app/lib/useAct";
import { Problems } from "@/ui/Page";
import { saveBackupPlanAction } from "./actions";

/** When backups come by themselves, and how many are kept. */
export function PlanForm({ start }: { start: BackupPlan }) {
  const { busy, messages, act } = useAct();
  const [on, setOn] = useState(start.on);
  const [hour, setHour] = useState(String(start.hour));
  const [keep, setKeep] = useState(String(start.keep));
  return (
    <form
      className="panel grid gap-3 p-4"
      onSubmit={(e) => {
        e.preventDefault();
        void act(() => saveBackupPlanAction({ on, hour, keep }), "Saved.");
      }}
    >
      <h2 className="font-semibold">Daily backup</h2>
      <Problems messages={messages} />
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={on} onChange={(e) => setOn(e.target.checked)} />
        Back up every day
      </label>
      <div>
        <label className="label" htmlFor="backup-hour">
          From hour (0 to 23, server time)
        </label>
        <input
          id="backup-hour"
          className="field w-24 text-right"
          inputMode="numeric"
          disabled={!on}
          value={hour}
          onChange={(e) => setHour(e.target.value)}
        />
      </div>
      <div>
        <label className="label" htmlFor="backup-keep">
          Backups kept
        </label>
        <input
          id="backup-keep"
          className="field w-24 text-right"
          inputMode="numeric"
          value={keep}
          onChange={(e) => setKeep(e.target.value)}
        />
        <p className="mt-1 text-xs text-ink-3">Older ones are deleted after a new one holds.</p>
      </div>
      <button type="submit" className="button button-main justify-self-start" disabled={busy}>
        Save
      </button>
    </form>
  );
}
