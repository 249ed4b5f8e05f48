import { listPairs } from "@/server/ledger";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { Pairs } from "./Pairs";

export const metadata = { title: "Intercompany set-up" };

export default async function PairsPage() {
  const result = await listPairs(await pageCaller());
  if (!result.ok)
    return (
      <Page title="Intercompany set-up">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { person, companies } = await frameData();
  return (
    <Pairs
      rows={result.value}
      companies={companies.map(({ code, name }) => ({ code, name }))}
      mayChange={
        person.groupRights.includes("setup.rules") ||
        person.groupRights.includes("setup.organisation")
      }
    />
  );
}
