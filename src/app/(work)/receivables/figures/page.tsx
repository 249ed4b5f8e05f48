import { describeFound } from "@/core/shared";
import { collectingFigures } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { FiguresPage } from "./FiguresPage";

export const metadata = { title: "Figures of collecting" };

export default async function Figures({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const { companies, today } = await frameData();
  const end =
    companies.find((c) => c.code === place.company)?.periods.find((p) => p.key === place.period)
      ?.end ?? today;
  const result = await collectingFigures(await pageCaller(), {
    company: place.company,
    on: end < today ? end : today,
  });
  return result.ok ? (
    <FiguresPage figures={result.value} />
  ) : (
    <Page strip={<PeriodStrip />} title="Figures of collecting">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
