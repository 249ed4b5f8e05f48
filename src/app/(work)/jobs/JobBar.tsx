"use client";
import { useAct } from "@/app/lib/useAct";
import { stopJobAction } from "./actions";

/** How far a job is, with the way to stop it. */
export function JobBar({
  job,
  mayStop,
}: {
  job: { id: number; state: string; done: number; total: number | null };
  mayStop: boolean;
}) {
  const { busy, messages, act } = useAct();
  const { done, total } = job;
  const share = total ? Math.min(1, done / total) : 0;
  const text =
    job.state === "waiting"
      ? "Waits for its turn"
      : total
        ? `${done.toLocaleString("en")} of ${total.toLocaleString("en")}`
        : done.toLocaleString("en");
  return (
    <div className="panel flex shrink-0 flex-wrap items-center gap-3 px-3.5 py-2">
      <div
        role="progressbar"
        aria-label="Progress"
        aria-valuemin={0}
        aria-valuemax={total ?? undefined}
        aria-valuenow={done}
        aria-valuetext={text}
        className="h-2 min-w-40 flex-1 overflow-hidden rounded-full bg-shade"
      >
        <div
          className="h-full rounded-full bg-yellow transition-[width]"
          style={{ width: `${share * 100}%` }}
        />
      </div>
      <span className="text-ink-2 tabular-nums">{text}</span>
      {mayStop && (
        <button
          type="button"
          className="button"
          disabled={busy}
          onClick={() => void act(() => stopJobAction(job.id), "It stops after the step in hand.")}
        >
          Stop
        </button>
      )}
      {messages.map((m) => (
        <span key={m} role="alert" className="text-coral">
          {m}
        </span>
      ))}
    </div>
  );
}
