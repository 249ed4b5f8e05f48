"use client";
import { useEffect, useState } from "react";
import { useRouter } from "next/navigation";
import { DatabaseBackup } from "lucide-react";
import type { BackupView } from "@/server/backups";
import { useAct } from "@/app/lib/useAct";
import { Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { backUpAction } from "./actions";
import { PlanForm } from "./PlanForm";

const DOING = {
  copying: "Copying the files",
  packing: "Packing the copy into one file",
  restoring: "Restoring the file into memory",
  verifying: "Verifying the restored books",
} as const;

/** Copies of the whole books: what there is, one more now, and when they come by themselves. */
export function Backups({ view }: { view: BackupView }) {
  const router = useRouter();
  const { busy, messages, act } = useAct();
  const { step, failure } = view.state;
  const [asked, setAsked] = useState(false);
  const running = step !== null || asked;
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => {
      setAsked(false);
      router.refresh();
    }, 1_000);
    return () => clearInterval(timer);
  }, [running, router]);
  if (view.instead)
    return (
      <Page title="Backups">
        <p className="panel max-w-3xl p-4">{view.instead}</p>
      </Page>
    );
  return (
    <Page
      title="Backups"
      note={`kept in ${view.folder}`}
      actions={
        <button
          type="button"
          className="button button-main"
          disabled={busy || running}
          onClick={() => void act(backUpAction, "The backup has begun.", () => setAsked(true))}
        >
          <DatabaseBackup size={15} aria-hidden />
          Back up now
        </button>
      }
    >
      <Problems
        messages={failure ? [...messages, `The last backup failed: ${failure}.`] : messages}
      />
      {running && (
        <p role="status" className="panel px-4 py-2.5">
          {step ? DOING[step] : "Beginning"} … Work goes on meanwhile.
        </p>
      )}
      <div className="grid items-start gap-4 lg:grid-cols-[1fr_300px]">
        <BackupTable backups={view.backups} />
        <PlanForm start={view.plan} />
      </div>
    </Page>
  );
}

function BackupTable({ backups }: Pick<BackupView, "backups">) {
  if (backups.length === 0)
    return (
      <p className="panel p-4">
        No backup yet. Back the books up now, or wait for the hour in which it is done daily.
      </p>
    );
  return (
    <div className="panel overflow-auto" tabIndex={0} role="region" aria-label="Backups">
      <table className="sheet">
        <thead>
          <tr>
            <th>Made at (UTC)</th>
            <th className="w-24">Status</th>
            <th className="num w-24">Size</th>
            <th className="num w-20">Last seal</th>
            <th>Made by</th>
            <th>File</th>
          </tr>
        </thead>
        <tbody>
          {backups.map((b) => (
            <tr key={b.name} title={`SHA-256 ${b.sha256}`}>
              <td>{b.at.slice(0, 16).replace("T", " ")}</td>
              <td className={b.faults.length > 0 ? "whitespace-normal!" : ""}>
                <Status of={b.faults.length === 0 ? "verified" : "failed"} />
                {b.faults[0] && <div className="text-coral">{b.faults[0]}</div>}
              </td>
              <td className="num">{(b.bytes / 1_048_576).toFixed(1)} MB</td>
              <td className="num">{b.seal || "–"}</td>
              <td>{b.by}</td>
              <td className="text-ink-2">{b.name}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
