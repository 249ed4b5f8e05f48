import { describeFound } from "@/core/shared";
import { listBanks } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { Banks } from "./Banks";

export const metadata = { title: "Banks" };

export default async function BanksPage() {
  const result = await listBanks(await pageCaller());
  const { person } = await frameData();
  if (!result.ok)
    return (
      <Page title="Banks">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const mayChange =
    person.groupRights.includes("setup.rules") || person.groupRights.includes("prepare.banks");
  return <Banks rows={result.value} mayChange={mayChange} />;
}
