import type { JobKindId } from "@/core/jobs";
import type { JobKind } from "../jobs";
import { matchLinesJob, postCertainJob } from "../banks";
import { computeRunJob, postRunJob } from "../runs";

/** Every kind of job there is. */
export const JOB_KINDS: Readonly<Record<JobKindId, JobKind>> = {
  "compute-run": computeRunJob,
  "post-run": postRunJob,
  "match-lines": matchLinesJob,
  "post-certain": postCertainJob,
};
