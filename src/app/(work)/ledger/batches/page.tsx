import { listOfAddress } from "@/core/lists";
import { describeFound } from "@/core/shared";
import { listBatches } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { BatchList } from "./BatchList";

export const metadata = { title: "Batches" };

export default async function BatchesPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const asked = { company: place.company, status: "all", text: "", ...listOfAddress(address) };
  const result = await listBatches(await pageCaller(), asked);
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Batches">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return <BatchList list={await startOfList("batches", result.value, asked)} />;
}
