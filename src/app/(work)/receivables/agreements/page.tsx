import { describeFound } from "@/core/shared";
import { listAgreements } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { AgreementList } from "./AgreementList";

export const metadata = { title: "Agreements" };

export default async function AgreementsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const upTo =
    (await frameData()).companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? "";
  const result = await listAgreements(await pageCaller(), { company: place.company, upTo });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Agreements">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return <AgreementList rows={result.value} upTo={upTo} />;
}
