import { describeFound } from "@/core/shared";
import { listTaxCodes } from "@/server/taxes";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { TaxCodes } from "./TaxCodes";

export const metadata = { title: "Tax codes" };

export default async function TaxesPage() {
  const result = await listTaxCodes(await pageCaller());
  const { person } = await frameData();
  if (!result.ok)
    return (
      <Page title="Tax codes">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return <TaxCodes rows={result.value} mayChange={person.groupRights.includes("setup.rules")} />;
}
