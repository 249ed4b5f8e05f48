import type { JobKindId } from "@/core/jobs";
import type { JobKind } from "../jobs";
import { matchLinesJob, postCertainJob, takeStatementsJob } from "../banks";
import { sendAdvicesJob } from "../payables";
import { sendLettersJob } from "../receivables";
import { computeRunJob, postRunJob } from "../runs";

/** Every kind of job there is. */
export const JOB_KINDS: Readonly<Record<JobKindId, JobKind>> = {
  "compute-run": computeRunJob,
  "post-run": postRunJob,
  "take-statements": takeStatementsJob,
  "match-lines": matchLinesJob,
  "send-letters": sendLettersJob,
  "send-advices": sendAdvicesJob,
  "post-certain": postCertainJob,
};
