"use client";
import Link from "next/link";
import type { JobView } from "@/server/jobs";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { JobBar } from "./JobBar";
import { isUnderWay } from "./underWay";
import { useProgress } from "./useProgress";
import { shownDate } from "@/ui/writing";

/** Long work: what is under way with its progress, and what ended of late with what came of it. */
export function JobList({ jobs: first }: { jobs: readonly JobView[] }) {
  const work = useWork();
  const jobs = useProgress(first);
  if (jobs.length === 0)
    return (
      <Empty title="No jobs">
        Large runs are computed and posted in the background. Their progress stands here.
      </Empty>
    );
  return (
    <div className="panel min-h-0 flex-1 overflow-auto">
      <table className="sheet">
        <thead>
          <tr>
            <th className="w-28">Status</th>
            <th className="w-24">Job</th>
            <th>Description</th>
            <th className="w-[36%]">Progress</th>
            <th className="w-36">Started by</th>
            <th className="w-40">Started</th>
          </tr>
        </thead>
        <tbody>
          {jobs.map((j) => (
            <tr key={j.id}>
              <td>
                <Status of={j.state} quiet />
              </td>
              <td>{j.kind}</td>
              <td>
                <Link
                  className="link font-semibold"
                  href={work.link(j.page, j.company ? { company: j.company } : {})}
                >
                  {j.title}
                </Link>
              </td>
              <td className="whitespace-normal">
                {isUnderWay(j) ? (
                  <JobBar job={j} mayStop={j.mayStop} />
                ) : (
                  j.note || (j.total ?? j.done).toLocaleString("en")
                )}
              </td>
              <td>{j.askedBy}</td>
              <td>
                {shownDate(j.askedAt.slice(0, 10))}, {j.askedAt.slice(11, 16)} UTC
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
