import { describeFound } from "@/core/shared";
import { listSaleItems } from "@/server/trade";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ItemList } from "@/app/trade/ItemList";
import { saveSaleItemAction } from "./actions";

export const metadata = { title: "Sale items" };

export default async function ItemsPage() {
  const result = await listSaleItems(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <ItemList
      side="sold"
      save={saveSaleItemAction}
      rows={result.value}
      mayChange={
        person.groupRights.includes("prepare.receivables") ||
        person.groupRights.includes("setup.rules")
      }
    />
  ) : (
    <Page title="Sale items">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
