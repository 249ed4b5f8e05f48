import { outlines } from "@/server/statements";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { NoOutlines } from "./NoOutlines";
import { OutlineLines } from "./OutlineLines";

export const metadata = { title: "Statement outlines" };

export default async function OutlinesPage({ searchParams }: { searchParams: SearchParams }) {
  const { address } = await readAddress(searchParams);
  const result = await outlines(await pageCaller());
  if (!result.ok)
    return (
      <Page title="Statement outlines">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { person } = await frameData();
  const chosen = result.value.find((o) => o.code === address.outline) ?? result.value[0];
  if (!chosen)
    return (
      <Page title="Statement outlines">
        <NoOutlines mayChange={person.groupRights.includes("setup.rules")} />
      </Page>
    );
  return (
    <OutlineLines
      key={`${chosen.code} ${chosen.version}`}
      outline={chosen}
      all={result.value.map(({ code, name }) => ({ code, name }))}
      mayChange={person.groupRights.includes("setup.rules")}
    />
  );
}
