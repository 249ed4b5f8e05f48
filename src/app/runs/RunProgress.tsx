"use client";
import type { RunView } from "@/server/runs";
import { JobBar } from "@/app/(work)/jobs/JobBar";
import { isUnderWay } from "@/app/(work)/jobs/underWay";
import { useProgress } from "@/app/(work)/jobs/useProgress";

/** How far a large run is, or what came of computing or posting it. */
export function RunProgress({ job: first }: { job: NonNullable<RunView["job"]> }) {
  const job = useProgress([first])[0]!;
  if (isUnderWay(job)) return <JobBar job={job} mayStop />;
  return (
    <p role="alert" className="notice notice-bad">
      {job.state === "stopped" ? "It was stopped. Nothing of it stays." : job.note}
    </p>
  );
}
