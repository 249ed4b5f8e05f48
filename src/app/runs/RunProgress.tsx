"use client";
import type { RunView } from "@/server/runs";
import { JobBar } from "@/app/(work)/jobs/JobBar";
import { isUnderWay } from "@/app/(work)/jobs/underWay";
import { useProgress } from "@/app/(work)/jobs/useProgress";

/** Kinds of job whose steps reach others. */
const SENDING: ReadonlySet<string> = new Set(["send-letters", "send-advices"]);

/** How far a large run is, or what came of computing or posting it. */
export function RunProgress({ job: first }: { job: NonNullable<RunView["job"]> }) {
  const job = useProgress([first])[0]!;
  if (isUnderWay(job)) return <JobBar job={job} mayStop />;
  return (
    <p role="alert" className="notice notice-bad">
      {job.state === "stopped"
        ? SENDING.has(job.kind)
          ? "It was stopped: what has gone out stays, what is left can be sent later."
          : "It was stopped. Nothing of it stays."
        : job.note}
    </p>
  );
}
