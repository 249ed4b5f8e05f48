import { describeFound } from "@/core/shared";
import { lateRates, receivablesSettings } from "@/server/receivables";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ReceivablesSettingsForm } from "./ReceivablesSettingsForm";

export const metadata = { title: "Receivables settings" };

export default async function ReceivablesSettingsPage() {
  const caller = await pageCaller();
  const result = await receivablesSettings(caller);
  const rates = await lateRates(caller);
  const { person, dimensions } = await frameData();
  return result.ok ? (
    <ReceivablesSettingsForm
      start={result.value}
      dimensions={dimensions}
      rates={rates.ok ? rates.value : []}
      mayChange={person.groupRights.includes("setup.rules")}
    />
  ) : (
    <Page title="Receivables settings">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
