import { describeFound } from "@/core/shared";
import { getAsset } from "@/server/assets";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { AssetPage } from "./AssetPage";

export const metadata = { title: "Asset" };

export default async function OneAssetPage({
  params,
  searchParams,
}: {
  params: Promise<{ key: string }>;
  searchParams: SearchParams;
}) {
  const { key } = await params;
  const { place } = await readAddress(searchParams);
  const frame = await frameData();
  const on =
    frame.companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? frame.today;
  const result = await getAsset(await pageCaller(), { key: decodeURIComponent(key), on });
  return result.ok ? (
    <AssetPage key={`${result.value.id} ${result.value.version}`} asset={result.value} on={on} />
  ) : (
    <Page strip={<PeriodStrip />} title="Asset">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
