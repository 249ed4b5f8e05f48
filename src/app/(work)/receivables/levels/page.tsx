import { describeFound } from "@/core/shared";
import { reminderProcedures } from "@/server/receivables";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { LevelsPage } from "./LevelsPage";

export const metadata = { title: "Reminder levels" };

export default async function Levels({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const groups = await reminderProcedures(await pageCaller());
  if (!groups.ok)
    return (
      <Page title="Reminder levels">
        <Problems messages={groups.problems.map(describeFound)} />
      </Page>
    );
  const { person, companies } = await frameData();
  const group = groups.value.find((g) => g.code === (address.group ?? "")) ?? groups.value[0]!;
  return (
    <LevelsPage
      key={group.code}
      groups={groups.value}
      group={group}
      currency={companies.find((c) => c.code === place.company)?.currency ?? "EUR"}
      mayChange={person.groupRights.includes("setup.rules")}
    />
  );
}
