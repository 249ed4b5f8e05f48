import { describeFound } from "@/core/shared";
import { listCleanUpRules } from "@/server/purchasing";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { RuleList } from "./RuleList";

export const metadata = { title: "Clean-up rules" };

export default async function RulesPage() {
  const result = await listCleanUpRules(await pageCaller());
  const { person } = await frameData();
  if (!result.ok) return <Page title="Clean-up rules"><Problems messages={result.problems.map(describeFound)} /></Page>;
  return <RuleList rules={result.value.map(({ rule, problems }) => ({ rule, problems: problems.map(describeFound) }))} mayChange={person.rights.includes("setup.rules")} />;
}
