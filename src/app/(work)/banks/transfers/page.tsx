import { describeFound } from "@/core/shared";
import { listTransfers } from "@/server/banks";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { TransferActions, TransferList } from "./TransferList";

export const metadata = { title: "Transfers" };

export default async function TransfersPage({ searchParams }: { searchParams: SearchParams }) {
  const { company, input } = await listAddress(searchParams, []);
  const result = await listTransfers(await pageCaller(), input);
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Transfers"
      note={`from accounts of ${company?.name ?? ""} to others of our own`}
      actions={<TransferActions />}
    >
      {result.ok ? (
        <TransferList list={await startOfList("transfers", result.value, input)} />
      ) : (
        <Problems messages={result.problems.map(describeFound)} />
      )}
    </Page>
  );
}
