import { describeFound } from "@/core/shared";
import { listReceipts } from "@/server/banks";
import { receivingAccounts } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { NewReceiptActions, ReceiptList } from "./ReceiptList";

export const metadata = { title: "Receipts" };

export default async function ReceiptsPage({ searchParams }: { searchParams: SearchParams }) {
  const { company, input } = await listAddress(searchParams, []);
  const accounts = await receivingAccounts(await pageCaller(), { company: input.company });
  const result = await listReceipts(await pageCaller(), input);
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Receipts"
      note={`money that came to ${company?.name ?? ""} from customers`}
      actions={<NewReceiptActions bank={accounts.ok ? (accounts.value[0]?.code ?? "") : ""} />}
    >
      {result.ok ? (
        <ReceiptList list={await startOfList("receipts", result.value, input)} />
      ) : (
        <Problems messages={result.problems.map(describeFound)} />
      )}
    </Page>
  );
}
