"use server";
import { listJobs, stopJob, type JobView } from "@/server/jobs";
import { answer } from "@/app/lib/answer";
import { actionCaller, watchingCaller } from "@/app/lib/session";
import { isUnderWay } from "./underWay";

export const stopJobAction = async (id: number) =>
  answer(await stopJob(await actionCaller(), { id }));

/** What is under way of what the person may see. */
export async function jobsUnderWay(): Promise<JobView[]> {
  const jobs = await listJobs(await watchingCaller());
  return jobs.ok ? jobs.value.filter(isUnderWay) : [];
}
