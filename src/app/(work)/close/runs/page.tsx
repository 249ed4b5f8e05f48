import { describeFound } from "@/core/shared";
import { listRuns } from "@/server/runs";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { RunList } from "./RunList";

export const metadata = { title: "Runs" };

export default async function RunsPage({ searchParams }: { searchParams: SearchParams }) {
  const { company, input } = await listAddress(searchParams);
  // Runs are few, and looked for long after: those of all periods.
  const asked = { ...input, from: undefined, to: undefined };
  const result = await listRuns(await pageCaller(), asked);
  return (
    <Page
      title="Runs"
      note={`of ${company?.name ?? ""}: what was posted in bulk, with its preview and its way back`}
    >
      {result.ok ? (
        <RunList list={await startOfList("runs", result.value, asked)} />
      ) : (
        <Problems messages={result.problems.map(describeFound)} />
      )}
    </Page>
  );
}
