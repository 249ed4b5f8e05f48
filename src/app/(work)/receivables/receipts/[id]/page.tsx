import { describeFound } from "@/core/shared";
import { getReceipt } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { ReceiptView } from "./ReceiptView";

export const metadata = { title: "Receipt" };

export default async function ReceiptPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const result = await getReceipt(await pageCaller(), { id: Number(id) || 0 });
  return result.ok ? (
    <ReceiptView receipt={result.value} />
  ) : (
    <Page title="Receipt">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
