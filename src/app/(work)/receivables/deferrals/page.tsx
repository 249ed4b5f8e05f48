import { describeFound } from "@/core/shared";
import { listDeferrals } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { DeferralsPage } from "./DeferralsPage";

export const metadata = { title: "Deferred revenue" };

export default async function Deferrals({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const last =
    (await frameData()).companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? "";
  const deferrals = await listDeferrals(await pageCaller(), { company: place.company, on: last });
  return deferrals.ok ? (
    <DeferralsPage deferrals={deferrals.value} upTo={last} />
  ) : (
    <Page strip={<PeriodStrip />} title="Deferred revenue">
      <Problems messages={deferrals.problems.map(describeFound)} />
    </Page>
  );
}
