import { describeFound } from "@/core/shared";
import { getReconciliation } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { ReconciliationPage } from "./ReconciliationPage";

export const metadata = { title: "Bank reconciliation" };

export default async function ReconciliationScreen({
  params,
}: {
  params: Promise<{ id: string }>;
}) {
  const id = Number((await params).id) || 0;
  const result = await getReconciliation(await pageCaller(), { id });
  return result.ok ? (
    <ReconciliationPage of={result.value} />
  ) : (
    <Page title="Bank reconciliation">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
