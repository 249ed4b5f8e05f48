import { describeFound } from "@/core/shared";
import { listAssets } from "@/server/assets";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, listAddress, readAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { AssetList, TakeOver } from "./AssetList";

export const metadata = { title: "Register of assets" };

export default async function RegisterPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const { input } = await listAddress(searchParams, []);
  const on =
    (await frameData()).companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? "";
  // The register is of a day: assets of all years are in it.
  const asked = { ...input, from: "", to: "", book: place.book, on };
  const result = await listAssets(await pageCaller(), asked);
  return (
    <Page
      strip={<PeriodStrip />}
      title="Register of assets"
      note={`in ${place.book}, on the last day of the period`}
      actions={<TakeOver on={on} />}
    >
      {result.ok ? (
        <AssetList list={await startOfList("assets", result.value, asked)} />
      ) : (
        <Problems messages={result.problems.map(describeFound)} />
      )}
    </Page>
  );
}
