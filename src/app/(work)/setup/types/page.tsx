import { journalTypes } from "@/server/ledger";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { JournalTypes } from "./JournalTypes";

export const metadata = { title: "Journal types" };

export default async function TypesPage() {
  const result = await journalTypes(await pageCaller());
  if (!result.ok)
    return (
      <Page title="Journal types">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { person } = await frameData();
  return (
    <JournalTypes
      rows={[...result.value]}
      mayChange={
        person.groupRights.includes("setup.rules") ||
        person.groupRights.includes("setup.organisation")
      }
    />
  );
}
