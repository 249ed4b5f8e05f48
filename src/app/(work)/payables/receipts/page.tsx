import { describeFound } from "@/core/shared";
import { listReceipts } from "@/server/purchasing";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { ReceiptList } from "./ReceiptList";

export const metadata = { title: "Receipts" };

export default async function ReceiptsPage({ searchParams }: { searchParams: SearchParams }) {
  const { company, input } = await listAddress(searchParams, []);
  const asked = input;
  const result = await listReceipts(await pageCaller(), asked);
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Receipts">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Receipts"
      note={`of goods and services, ${company?.name ?? ""}`}
    >
      <ReceiptList list={await startOfList("receipts", result.value, asked)} />
    </Page>
  );
}
