import { describeFound } from "@/core/shared";
import { listOrders } from "@/server/purchasing";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { OrderActions, OrderList } from "./OrderList";

export const metadata = { title: "Orders" };

export default async function OrdersPage({ searchParams }: { searchParams: SearchParams }) {
  const { company, address, text, anywhere, input } = await listAddress(searchParams, [
    "draft",
    "waiting",
  ]);
  const status = address.status ?? "all";
  const asked = { ...input, status };
  const result = await listOrders(await pageCaller(), asked);
  const actions = <OrderActions status={status} text={text} />;
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Orders" actions={actions}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Orders"
      note={`requests and orders of ${company?.name ?? ""}${anywhere ? " · all periods" : ""}`}
      actions={actions}
    >
      <OrderList list={await startOfList("orders", result.value, asked)} />
    </Page>
  );
}
