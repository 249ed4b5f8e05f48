import { describeFound } from "@/core/shared";
import { listReasons, reasonRules } from "@/server/documents";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { Reasons } from "./Reasons";

export const metadata = { title: "Reasons" };

export default async function ReasonsPage() {
  const caller = await pageCaller();
  const result = await listReasons(caller);
  const rules = await reasonRules(caller);
  const { person } = await frameData();
  return result.ok && rules.ok ? (
    <Reasons
      rows={result.value}
      rules={rules.value}
      mayChange={person.groupRights.includes("setup.rules")}
    />
  ) : (
    <Page title="Reasons">
      <Problems messages={(result.ok ? [] : result.problems).map(describeFound)} />
    </Page>
  );
}
