import { describeFound } from "@/core/shared";
import { lookups } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { LoadPage } from "./LoadPage";

export const metadata = { title: "Load journals" };

export default async function JournalLoadPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const found = await lookups(await pageCaller(), { company: place.company, period: place.period });
  if (!found.ok)
    return (
      <Page strip={<PeriodStrip />} title="Load journals">
        <Problems messages={found.problems.map(describeFound)} />
      </Page>
    );
  const frame = await frameData();
  const company = frame.companies.find((c) => c.code === place.company);
  return (
    <LoadPage key={place.company} lookups={found.value} currency={company?.currency ?? "EUR"} />
  );
}
