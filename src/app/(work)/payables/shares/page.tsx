import { describeFound } from "@/core/shared";
import { listShares } from "@/server/purchasing";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ShareList } from "./ShareList";

export const metadata = { title: "Shares" };

export default async function SharesPage() {
  const result = await listShares(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <ShareList
      rows={result.value}
      mayChange={
        person.groupRights.includes("prepare.payables") ||
        person.groupRights.includes("setup.rules")
      }
    />
  ) : (
    <Page title="Shares">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
