import { describeFound } from "@/core/shared";
import { listRecurringInvoices } from "@/server/payables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { RecurringInvoiceList } from "./RecurringInvoiceList";

export const metadata = { title: "Recurring invoices" };

export default async function RecurringInvoicesPage({
  searchParams,
}: {
  searchParams: SearchParams;
}) {
  const { place } = await readAddress(searchParams);
  const upTo =
    (await frameData()).companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? "";
  const result = await listRecurringInvoices(await pageCaller(), { company: place.company, upTo });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Recurring invoices">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return <RecurringInvoiceList rows={result.value} upTo={upTo} />;
}
