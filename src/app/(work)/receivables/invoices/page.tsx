import { describeFound } from "@/core/shared";
import { listSales } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { SaleActions, SaleList } from "./SaleList";

export const metadata = { title: "Sales invoices" };

export default async function SalesPage({ searchParams }: { searchParams: SearchParams }) {
  const { company, status, text, anywhere, input } = await listAddress(searchParams, [
    "draft",
    "waiting",
  ]);
  const result = await listSales(await pageCaller(), input);
  const actions = <SaleActions status={status} text={text} />;
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Sales invoices" actions={actions}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Sales invoices"
      note={`to customers, ${company?.name ?? ""}${anywhere ? " · all periods" : ""}`}
      actions={actions}
    >
      <SaleList list={await startOfList("sales", result.value, input)} />
    </Page>
  );
}
