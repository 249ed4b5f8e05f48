import { describeFound } from "@/core/shared";
import { payablesSettings } from "@/server/payables";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { PayablesSettingsForm } from "./PayablesSettingsForm";

export const metadata = { title: "Payables settings" };

export default async function PayablesSettingsPage() {
  const result = await payablesSettings(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <PayablesSettingsForm
      start={result.value}
      mayChange={person.groupRights.includes("setup.rules")}
    />
  ) : (
    <Page title="Payables settings">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
