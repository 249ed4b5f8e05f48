import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { listPeople } from "@/server/access";
import { dimensionTree } from "@/server/organisation";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { Dimensions } from "./Dimensions";

export const metadata = { title: "Dimensions" };

export default async function DimensionsPage({ searchParams }: { searchParams: SearchParams }) {
  const { address } = await readAddress(searchParams);
  const caller = await pageCaller();
  const result = await dimensionTree(caller);
  const people = await listPeople(caller);
  const { person } = await frameData();
  if (!result.ok)
    return (
      <Page title="Dimensions">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const chosen = result.value.find((d) => d.code === address.dimension) ?? result.value[0];
  if (!chosen)
    return (
      <Page title="Dimensions">
        <Problems messages={["There is no dimension yet."]} />
      </Page>
    );
  return (
    <Dimensions
      key={chosen.code}
      all={result.value.map(({ code, name }) => ({ code, name }))}
      branch={chosen}
      people={people.ok ? people.value.map(({ id, login, name }) => ({ id, login, name })) : []}
      mayChange={person.groupRights.includes("setup.organisation")}
    />
  );
}
