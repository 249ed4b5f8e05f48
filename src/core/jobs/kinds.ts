/**
 * The kinds of job, with what people call them: long work that nobody waits for. Each is defined in
 * the folder of its area.
 */
export const JOB_KINDS = {
  "compute-run": "Preview",
  "post-run": "Posting",
  "take-statements": "Bank statements",
  "match-lines": "Matching",
  "send-letters": "Letters",
  "send-advices": "Remittance advices",
  "post-certain": "Posting what is certain",
} as const;
export type JobKindId = keyof typeof JOB_KINDS;

/** Where a job stands. One that is stopped was stopped by a person. */
export const JOB_STATES = ["waiting", "running", "done", "failed", "stopped"] as const;
export type JobState = (typeof JOB_STATES)[number];
