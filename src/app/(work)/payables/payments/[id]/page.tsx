import { describeFound } from "@/core/shared";
import { getPayment } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { PaymentView } from "./PaymentView";

export const metadata = { title: "Payment" };

export default async function PaymentPage({ params }: { params: Promise<{ id: string }> }) {
  const result = await getPayment(await pageCaller(), { id: Number((await params).id) || 0 });
  return result.ok ? (
    <PaymentView payment={result.value} />
  ) : (
    <Page title="Payment">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
