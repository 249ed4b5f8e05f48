"use client";
import { useEffect, useState } from "react";
import { useRouter } from "next/navigation";
import type { JobView } from "@/server/jobs";
import { jobsUnderWay } from "./actions";
import { isUnderWay } from "./underWay";

const EVERY = 1_500;

/**
 * Jobs as they stand now: while one is under way it is asked how far it is; once one has ended the
 * page is read again. Asking by itself keeps nobody signed in.
 */
export function useProgress<J extends Pick<JobView, "id" | "state" | "done" | "total">>(
  jobs: readonly J[],
): J[] {
  const router = useRouter();
  const [seen, setSeen] = useState<ReadonlyMap<number, JobView>>(new Map());
  const ids = jobs
    .filter(isUnderWay)
    .map((j) => j.id)
    .join();
  useEffect(() => {
    if (ids === "") return;
    let told = false;
    const timer = setInterval(
      () =>
        void jobsUnderWay()
          .then((now) => {
            setSeen(new Map(now.map((j) => [j.id, j])));
            const there = new Set(now.map((j) => String(j.id)));
            if (told || ids.split(",").every((id) => there.has(id))) return;
            told = true;
            router.refresh();
          })
          // It is asked again next time.
          .catch(() => {}),
      EVERY,
    );
    return () => clearInterval(timer);
  }, [ids, router]);
  return jobs.map((j) => {
    const now = seen.get(j.id);
    return now && isUnderWay(j) ? { ...j, state: now.state, done: now.done, total: now.total } : j;
  });
}
