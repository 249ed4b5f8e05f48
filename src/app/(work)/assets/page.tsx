import { describeFound } from "@/core/shared";
import { assetSchedule } from "@/server/assets";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { SchedulePage } from "./SchedulePage";

export const metadata = { title: "Assets" };

export default async function AssetsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const periods =
    (await frameData()).companies.find((c) => c.code === place.company)?.periods ?? [];
  const last = periods.find((p) => p.key === place.period);
  const first = periods.find((p) => p.key === (place.from ?? place.period)) ?? last;
  const result = await assetSchedule(await pageCaller(), {
    company: place.company,
    book: place.book,
    from: first?.start ?? "",
    to: last?.end ?? "",
  });
  return result.ok ? (
    <SchedulePage
      schedule={result.value}
      from={first?.start ?? ""}
      to={last?.end ?? ""}
      book={place.book}
    />
  ) : (
    <Page strip={<PeriodStrip range />} title="Assets">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
