import { describeFound } from "@/core/shared";
import { listPeople } from "@/server/access";
import { listWriteOffLimits } from "@/server/openItems";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { WriteOffLimits } from "./WriteOffLimits";

export const metadata = { title: "Write-off limits" };

export default async function WriteOffLimitsPage() {
  const caller = await pageCaller();
  const [result, people] = await Promise.all([listWriteOffLimits(caller), listPeople(caller)]);
  const { person, companies } = await frameData();
  return result.ok ? (
    <WriteOffLimits
      rows={result.value}
      people={people.ok ? people.value.map((p) => ({ value: p.login, text: p.name })) : []}
      companies={companies.map((c) => ({ value: c.code, text: c.name }))}
      mayChange={person.rights.includes("setup.rules")}
    />
  ) : (
    <Page title="Write-off limits">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
