import { describeFound } from "@/core/shared";
import { listWriteOffs, lossMatrix } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { LossesPage } from "./LossesPage";

export const metadata = { title: "Expected credit losses" };

export default async function Losses({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const { companies, today } = await frameData();
  const period = companies
    .find((c) => c.code === place.company)
    ?.periods.find((p) => p.key === place.period);
  // A period that is not over yet is looked at as it stands today.
  const end = period?.end ?? today;
  const on = end < today ? end : today;
  const matrix = await lossMatrix(caller, { company: place.company, on });
  const writeOffs = await listWriteOffs(caller, { company: place.company });
  if (!matrix.ok || !writeOffs.ok)
    return (
      <Page strip={<PeriodStrip />} title="Expected credit losses">
        <Problems
          messages={[matrix, writeOffs].flatMap((r) => (r.ok ? [] : r.problems.map(describeFound)))}
        />
      </Page>
    );
  return (
    <LossesPage key={on} on={on} end={end} matrix={matrix.value} writeOffs={writeOffs.value} />
  );
}
