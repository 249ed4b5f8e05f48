import { describeFound } from "@/core/shared";
import { listTolerances } from "@/server/purchasing";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ToleranceList } from "./ToleranceList";

export const metadata = { title: "Matching tolerances" };

export default async function TolerancesPage() {
  const result = await listTolerances(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <ToleranceList rows={result.value} mayChange={person.groupRights.includes("setup.rules")} />
  ) : (
    <Page title="Matching tolerances">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
