import { describeFound } from "@/core/shared";
import { listCleanUpRules } from "@/server/purchasing";
import { Page, Problems } from "@/ui/Page";
import { getSchedule } from "@/server/runs";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { RuleList } from "./RuleList";

export const metadata = { title: "Clean-up rules" };

export default async function RulesPage({ searchParams }: { searchParams: SearchParams }) {
  const result = await listCleanUpRules(await pageCaller());
  const { person } = await frameData();
  const { place } = await readAddress(searchParams);
  const schedule = await getSchedule(await pageCaller(), {
    company: place.company,
    kind: "clean-up",
  });
  if (!result.ok)
    return (
      <Page title="Clean-up rules">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <RuleList
      rules={result.value.map(({ rule, problems }) => ({
        rule,
        problems: problems.map(describeFound),
      }))}
      mayChange={person.groupRights.includes("setup.rules")}
      schedule={schedule.ok ? schedule.value : null}
    />
  );
}
