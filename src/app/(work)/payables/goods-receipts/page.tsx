import { describeFound } from "@/core/shared";
import { listGoodsReceipts } from "@/server/purchasing";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { GoodsReceiptList } from "./GoodsReceiptList";

export const metadata = { title: "Goods receipts" };

export default async function GoodsReceiptsPage({ searchParams }: { searchParams: SearchParams }) {
  const { company, input } = await listAddress(searchParams, []);
  const asked = input;
  const result = await listGoodsReceipts(await pageCaller(), asked);
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Goods receipts">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Goods receipts"
      note={`of goods and services, ${company?.name ?? ""}`}
    >
      <GoodsReceiptList list={await startOfList("goods-receipts", result.value, asked)} />
    </Page>
  );
}
