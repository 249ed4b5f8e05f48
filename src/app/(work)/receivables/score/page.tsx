import { describeFound } from "@/core/shared";
import { customerGroups } from "@/server/receivables";
import { Empty, Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ScorePage } from "./ScorePage";

export const metadata = { title: "Score of customers" };

export default async function Score({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const groups = await customerGroups(await pageCaller());
  const { person } = await frameData();
  if (!groups.ok)
    return (
      <Page title="Score of customers">
        <Problems messages={groups.problems.map(describeFound)} />
      </Page>
    );
  const adding = address.group === "new";
  const group = groups.value.find((g) => g.code === address.group) ?? groups.value[0];
  if (!person.groupRights.includes("setup.rules") && !group)
    return (
      <Page title="Score of customers">
        <Empty title="No group of customers yet">
          A controller sets them up; until then the usual parts hold.
        </Empty>
      </Page>
    );
  return (
    <ScorePage
      key={adding ? "new" : (group?.code ?? "new")}
      company={place.company}
      groups={groups.value}
      group={adding ? null : (group ?? null)}
      mayChange={person.groupRights.includes("setup.rules")}
    />
  );
}
