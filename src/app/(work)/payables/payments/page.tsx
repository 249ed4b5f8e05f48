import { describeFound } from "@/core/shared";
import { listPayments } from "@/server/banks";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { PaymentActions, PaymentList } from "./PaymentList";

export const metadata = { title: "Payment register" };

export default async function PaymentsPage({ searchParams }: { searchParams: SearchParams }) {
  const { company, address, text, anywhere, input } = await listAddress(searchParams, []);
  const status = address.status ?? "all";
  const asked = { ...input, status };
  const result = await listPayments(await pageCaller(), asked);
  const actions = <PaymentActions status={status} text={text} />;
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Payment register" actions={actions}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Payment register"
      note={`to suppliers of ${company?.name ?? ""}${anywhere ? " · all periods" : ""}`}
      actions={actions}
    >
      <PaymentList list={await startOfList("payments", result.value, asked)} />
    </Page>
  );
}
