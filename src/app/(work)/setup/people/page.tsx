import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { listPeople, secondFactorRoles } from "@/server/access";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { People } from "./People";

export const metadata = { title: "People and rights" };

export default async function PeoplePage() {
  const caller = await pageCaller();
  const result = await listPeople(caller);
  const roles = await secondFactorRoles(caller);
  const { person, companies } = await frameData();
  return result.ok ? (
    <People
      rows={result.value}
      companies={companies.map(({ code, name }) => ({ code, name }))}
      mayChange={person.rights.includes("setup.people")}
      factorRoles={roles.ok ? roles.value : []}
      mayDemand={person.groupRights.includes("setup.people")}
    />
  ) : (
    <Page title="People and rights">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
