import { describeFound } from "@/core/shared";
import { listMonthlyPayments } from "@/server/cash";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { MonthlyPayments } from "./MonthlyPayments";

export const metadata = { title: "Monthly payments" };

export default async function MonthlyPaymentsPage() {
  const result = await listMonthlyPayments(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <MonthlyPayments rows={result.value} mayChange={person.groupRights.includes("setup.rules")} />
  ) : (
    <Page title="Monthly payments">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
