import { describeFound } from "@/core/shared";
import { priceIndices } from "@/server/receivables";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { IndicesPage } from "./IndicesPage";

export const metadata = { title: "Price indices" };

export default async function Indices() {
  const result = await priceIndices(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <IndicesPage rows={result.value} mayChange={person.groupRights.includes("setup.rules")} />
  ) : (
    <Page title="Price indices">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
