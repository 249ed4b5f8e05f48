import { describeFound } from "@/core/shared";
import { listRuns } from "@/server/runs";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { RunList } from "./RunList";

export const metadata = { title: "Runs" };

export default async function RunsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await listRuns(await pageCaller(), { company: place.company });
  return (
    <Page title="Runs" note="everything that was posted in bulk, with its preview and its way back">
      {result.ok ? (
        <RunList runs={result.value} />
      ) : (
        <Problems messages={result.problems.map(describeFound)} />
      )}
    </Page>
  );
}
