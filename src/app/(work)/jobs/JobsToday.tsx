"use client";
import Link from "next/link";
import type { JobView } from "@/server/jobs";
import { useWork } from "@/ui/frame/work";
import { JobBar } from "./JobBar";
import { isUnderWay } from "./underWay";
import { useProgress } from "./useProgress";

/** On the page of the day: what is under way, and what failed of late. */
export function JobsToday({ jobs: first }: { jobs: readonly JobView[] }) {
  const work = useWork();
  const jobs = useProgress(first);
  const underWay = jobs.filter(isUnderWay);
  const newest = new Set(
    jobs.filter((j) => !jobs.some((o) => o.page === j.page && o.id > j.id)).map((j) => j.id),
  );
  // What was begun again since then has failed no more.
  const failed = jobs.filter((j) => j.state === "failed" && newest.has(j.id));
  const link = (j: JobView) => (
    <Link
      className="link font-semibold"
      href={work.link(j.page, j.company ? { company: j.company } : {})}
    >
      {j.title}
    </Link>
  );
  return (
    <>
      {underWay.map((j) => (
        <div key={j.id} className="flex flex-col gap-1">
          <span>
            {j.kind} of {link(j)}
          </span>
          <JobBar job={j} mayStop={j.mayStop} />
        </div>
      ))}
      {failed.slice(0, 3).map((j) => (
        <p key={j.id} className="notice notice-bad">
          {j.kind} of {link(j)} failed: {j.note}
        </p>
      ))}
    </>
  );
}
