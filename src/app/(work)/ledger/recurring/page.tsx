import { describeFound } from "@/core/shared";
import { listRecurring } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { RecurringList } from "./RecurringList";

export const metadata = { title: "Recurring journals" };

export default async function RecurringPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const frame = await frameData();
  const upTo =
    frame.companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? frame.today;
  const result = await listRecurring(await pageCaller(), { company: place.company, upTo });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Recurring journals">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return <RecurringList rows={result.value} upTo={upTo} />;
}
