import type { AnySchema, InferType } from "yup";
import type { JobKindId } from "@/core/jobs";
import type { Result } from "@/core/shared";
import type { Context } from "../access";

/** A job at work. */
export interface JobAtWork<P> {
  params: P;
  /**
   * Does a step in a transaction of its own, as the person who asked for the job. What it gives as
   * `done` is shown as progress. Between steps a job can be stopped, and others are answered.
   */
  step<T>(work: (context: Context) => Promise<Result<T>>): Promise<Result<T>>;
}

/** A kind of job: long work in steps, which may be begun again from its first line at any time. */
export interface JobKind<S extends AnySchema = AnySchema> {
  id: JobKindId;
  schema: S;
  /**
   * Does what is left to do: what earlier attempts have done is there, and it may be that all of it
   * is: a machine can stop between the last step and the note that it was the last.
   */
  work(job: JobAtWork<InferType<S>>): Promise<Result<unknown>>;
  /** Takes back what is half done, where it was stopped or failed for good; nothing else. */
  over(context: Context, params: InferType<S>): Promise<void>;
}

/** A kind of job, whatever it needs: what the list of all kinds holds. */
export const defineJobKind = <S extends AnySchema>(kind: JobKind<S>): JobKind =>
  kind as unknown as JobKind;

/** The kind of that name; the list is fetched when it is needed, as its areas stand on this one. */
export async function jobKind(id: JobKindId): Promise<JobKind> {
  const { JOB_KINDS } = await import("../kinds");
  return JOB_KINDS[id];
}
