import { describeFound } from "@/core/shared";
import { listInvoices } from "@/server/payables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { InvoiceActions, InvoiceList } from "./InvoiceList";

export const metadata = { title: "Invoices" };

export default async function InvoicesPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const frame = await frameData();
  const company = frame.companies.find((c) => c.code === place.company);
  const from = company?.periods.find((p) => p.key === place.from)?.start;
  const to = company?.periods.find((p) => p.key === place.period)?.end;
  const status = ["draft", "waiting", "posted", "reversed"].includes(address.status ?? "") ? address.status! : "all";
  const text = address.text ?? "";
  const anywhere = text !== "" || status === "draft" || status === "waiting";
  const result = await listInvoices(await pageCaller(), { company: place.company, status, text, ...(anywhere ? {} : { from, to }) });
  const actions = <InvoiceActions status={status} text={text} />;
  if (!result.ok) return <Page strip={<PeriodStrip range />} title="Invoices" actions={actions}><Problems messages={result.problems.map(describeFound)} /></Page>;
  return <Page strip={<PeriodStrip range />} title="Invoices" note={`of suppliers, ${company?.name ?? ""}${anywhere ? " · all periods" : ""}`} actions={actions}><InvoiceList items={result.value} /></Page>;
}
