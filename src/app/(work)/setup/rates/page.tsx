import { listRates, rateLimits } from "@/server/rates";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { Rates } from "./Rates";

export const metadata = { title: "Rates" };

export default async function RatesPage() {
  const caller = await pageCaller();
  const [result, limits] = [await listRates(caller), await rateLimits(caller)];
  if (!result.ok)
    return (
      <Page title="Rates">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { person } = await frameData();
  return (
    <Rates
      rows={result.value}
      limits={limits.ok ? limits.value : { days: 7, typed: "taken", pairs: [] }}
      mayChange={person.groupRights.includes("setup.rules")}
    />
  );
}
