import { describeFound } from "@/core/shared";
import { paymentTolerances } from "@/server/partners";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { TolerancesPage } from "./TolerancesPage";

export const metadata = { title: "Payment tolerances" };

export default async function Tolerances({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const groups = await paymentTolerances(await pageCaller());
  if (!groups.ok)
    return (
      <Page title="Payment tolerances">
        <Problems messages={groups.problems.map(describeFound)} />
      </Page>
    );
  const { person, companies } = await frameData();
  return (
    <TolerancesPage
      groups={groups.value}
      currency={companies.find((c) => c.code === place.company)?.currency ?? "EUR"}
      mayChange={person.groupRights.includes("setup.rules")}
    />
  );
}
