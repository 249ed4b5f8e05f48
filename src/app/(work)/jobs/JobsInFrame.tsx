"use client";
import Link from "next/link";
import { useEffect, useState } from "react";
import type { JobView } from "@/server/jobs";
import { useWork } from "@/ui/frame/work";
import { jobsUnderWay } from "./actions";

const BUSY = 2_000;
const QUIET = 30_000;

/** In the top line while something is under way: how far it is, and the way to the jobs. */
export function JobsInFrame({ first }: { first: JobView[] }) {
  const work = useWork();
  const [read, setRead] = useState<{ from: JobView[]; jobs: JobView[] }>({
    from: first,
    jobs: first,
  });
  // Another answer of the server counts before what was read meanwhile.
  const jobs = read.from === first ? read.jobs : first;
  useEffect(() => {
    const timer = setTimeout(
      () =>
        void jobsUnderWay()
          .then((next) => setRead({ from: first, jobs: next }))
          // It is asked again next time.
          .catch(() => setRead({ from: first, jobs: [...jobs] })),
      jobs.length > 0 ? BUSY : QUIET,
    );
    return () => clearTimeout(timer);
  }, [first, jobs]);
  const [job] = jobs;
  if (!job) return null;
  const percent = job.total ? `${Math.floor((100 * job.done) / job.total)} %` : "";
  const text = jobs.length === 1 ? `Job ${percent || "under way"}` : `${jobs.length} jobs`;
  return (
    <Link
      className="link flex items-center gap-1.5 whitespace-nowrap"
      href={work.link("/jobs")}
      title={jobs.map((j) => j.title).join("; ")}
    >
      <span className="size-2 animate-pulse rounded-full bg-yellow" aria-hidden />
      {text}
    </Link>
  );
}
