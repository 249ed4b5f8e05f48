import { invoiceInput } from "@/core/payables";
import { dateText, describeFound } from "@/core/shared";
import { approvalOf } from "@/server/approvals";
import { getJournal, invoiceLookups } from "@/server/ledger";
import { getInvoice } from "@/server/payables";
import { listShares } from "@/server/purchasing";
import { listTaxCodes } from "@/server/taxes";
import { listPartners, listTerms } from "@/server/partners";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { paperLookups } from "@/app/trade/paperLookups";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { JournalBeside } from "../../../ledger/journals/[key]/JournalBeside";
import { InvoiceEditor, type InvoiceLookups } from "./InvoiceEditor";
import { InvoiceView } from "./InvoiceView";

export const metadata = { title: "Invoice" };

export default async function InvoicePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const { id } = await params;
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const frame = await frameData();
  const refusal = (messages: string[]) => (
    <Page strip={<PeriodStrip />} title="Invoice">
      <Problems messages={messages} />
    </Page>
  );
  const found = id === "new" ? null : await getInvoice(caller, { id: Number(id) || 0 });
  if (found && !found.ok) return refusal(found.problems.map(describeFound));
  const view = found?.ok ? found.value : null;
  const beside = address.beside ? await getJournal(caller, { key: address.beside }) : null;
  const panel = beside && (
    <JournalBeside
      journal={beside.ok ? beside.value : null}
      message={beside.ok ? null : beside.problems.map(describeFound).join(" ")}
    />
  );
  const company = view?.company ?? place.company;
  const currency = frame.companies.find((c) => c.code === company)?.currency ?? "EUR";
  if (view && ((view.status !== "draft" && view.status !== "held") || !view.mayChange)) {
    const approval = await approvalOf(caller, { id: view.id });
    return <InvoiceView view={view} approval={approval.ok ? approval.value : null} panel={panel} />;
  }
  const coding = await invoiceLookups(caller, { company, period: place.period });
  if (!coding.ok) return refusal(coding.problems.map(describeFound));
  const suppliers = await listPartners(caller, { role: "supplier" });
  const lookups: InvoiceLookups = {
    ...paperLookups(coding.value, {
      terms: await listTerms(caller),
      taxes: await listTaxCodes(caller, { direction: "purchase" }),
      shares: await listShares(caller),
    }),
    suppliers: suppliers.ok ? suppliers.value.filter((s) => !s.blocked) : [],
  };
  const content = view?.content ?? invoiceInput({ company, date: dateText(frame.today) });
  return (
    <InvoiceEditor
      key={view?.id ?? `new ${company}`}
      start={{
        id: view?.id ?? null,
        version: view?.version ?? 0,
        content,
        savedAt: view?.savedAt ?? null,
        check: view?.check ?? null,
      }}
      lookups={lookups}
      currency={currency}
      mayPost={frame.person.rights.includes("post.payables")}
      openPapers={address.papers === "1"}
      held={view?.status === "held" ? { mayRelease: view.mayRelease } : null}
    />
  );
}
