import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { listPeople } from "@/server/access";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { People } from "./People";

export const metadata = { title: "People and rights" };

export default async function PeoplePage() {
  const result = await listPeople(await pageCaller());
  const { person, companies } = await frameData();
  return result.ok ? (
    <People
      rows={result.value}
      companies={companies.map(({ code, name }) => ({ code, name }))}
      mayChange={person.rights.includes("setup.people")}
    />
  ) : (
    <Page title="People and rights">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
