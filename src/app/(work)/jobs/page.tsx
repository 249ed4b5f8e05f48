import { describeFound } from "@/core/shared";
import { listJobs } from "@/server/jobs";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { JobList } from "./JobList";

export const metadata = { title: "Jobs" };

export default async function JobsPage() {
  const jobs = await listJobs(await pageCaller());
  return (
    <Page title="Jobs" note="long work in the background">
      {jobs.ok ? (
        <JobList jobs={jobs.value} />
      ) : (
        <Problems messages={jobs.problems.map(describeFound)} />
      )}
    </Page>
  );
}
