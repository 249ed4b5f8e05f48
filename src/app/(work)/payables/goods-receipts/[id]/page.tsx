import { describeFound } from "@/core/shared";
import { getGoodsReceipt } from "@/server/purchasing";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { GoodsReceiptView } from "./GoodsReceiptView";

export const metadata = { title: "Goods receipt" };

export default async function GoodsReceiptPage({ params }: { params: Promise<{ id: string }> }) {
  const result = await getGoodsReceipt(await pageCaller(), { id: Number((await params).id) || 0 });
  return result.ok ? (
    <GoodsReceiptView receipt={result.value} />
  ) : (
    <Page title="Goods receipt">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
