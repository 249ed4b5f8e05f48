import { describeFound } from "@/core/shared";
import { listInvoices } from "@/server/payables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { InvoiceActions, InvoiceList } from "./InvoiceList";

export const metadata = { title: "Supplier invoices" };

export default async function InvoicesPage({ searchParams }: { searchParams: SearchParams }) {
  const { company, status, text, anywhere, input } = await listAddress(searchParams, [
    "draft",
    "waiting",
  ]);
  const asked = input;
  const result = await listInvoices(await pageCaller(), asked);
  const actions = <InvoiceActions status={status} text={text} />;
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Supplier invoices" actions={actions}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Supplier invoices"
      note={`of suppliers, ${company?.name ?? ""}${anywhere ? " · all periods" : ""}`}
      actions={actions}
    >
      <InvoiceList list={await startOfList("invoices", result.value, asked)} />
    </Page>
  );
}
