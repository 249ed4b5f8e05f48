import { describeFound } from "@/core/shared";
import { listReasons } from "@/server/documents";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { Reasons } from "./Reasons";

export const metadata = { title: "Reasons" };

export default async function ReasonsPage() {
  const result = await listReasons(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <Reasons rows={result.value} mayChange={person.groupRights.includes("setup.rules")} />
  ) : (
    <Page title="Reasons">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
