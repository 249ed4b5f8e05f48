import { describeFound } from "@/core/shared";
import { listBatches } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { BatchList } from "./BatchList";

export const metadata = { title: "Batches" };

export default async function BatchesPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await listBatches(await pageCaller(), { company: place.company });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Batches">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return <BatchList rows={result.value} />;
}
