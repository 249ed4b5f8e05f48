import { describeFound } from "@/core/shared";
import { listPurchaseItems } from "@/server/trade";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ItemList } from "@/app/trade/ItemList";
import { savePurchaseItemAction } from "../orders/actions";

export const metadata = { title: "Purchase items" };

export default async function ItemsPage() {
  const result = await listPurchaseItems(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <ItemList
      side="bought"
      save={savePurchaseItemAction}
      rows={result.value}
      mayChange={
        person.groupRights.includes("prepare.payables") ||
        person.groupRights.includes("setup.rules")
      }
    />
  ) : (
    <Page title="Purchase items">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
