import { describeFound } from "@/core/shared";
import { dueReversals } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { DueList } from "./DueList";

export const metadata = { title: "Due reversals" };

export default async function ReversalsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const frame = await frameData();
  const upTo =
    frame.companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? frame.today;
  const result = await dueReversals(await pageCaller(), { company: place.company, upTo });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Due reversals">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return <DueList rows={result.value} upTo={upTo} />;
}
