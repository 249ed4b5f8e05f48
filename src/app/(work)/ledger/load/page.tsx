import { describeFound } from "@/core/shared";
import { getLoad, listLoads, lookups } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { LoadPanel } from "./EarlierLoads";
import { LoadPage } from "./LoadPage";

export const metadata = { title: "Load journals" };

export default async function JournalLoadPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const found = await lookups(caller, { company: place.company, period: place.period });
  if (!found.ok)
    return (
      <Page strip={<PeriodStrip />} title="Load journals">
        <Problems messages={found.problems.map(describeFound)} />
      </Page>
    );
  const frame = await frameData();
  const loads = await listLoads(caller, { company: place.company });
  const load = address.load ? await getLoad(caller, { id: Number(address.load) || 0 }) : null;
  const company = frame.companies.find((c) => c.code === place.company);
  return (
    <LoadPage
      key={place.company}
      lookups={found.value}
      currency={company?.currency ?? "EUR"}
      earlier={loads.ok ? loads.value : []}
      panel={
        load &&
        (load.ok ? (
          <LoadPanel load={load.value} />
        ) : (
          <Problems messages={load.problems.map(describeFound)} />
        ))
      }
    />
  );
}
