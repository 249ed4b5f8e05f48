import { invoiceInput } from "@/core/payables";
import { describeFound } from "@/core/shared";
import { invoiceLookups } from "@/server/ledger";
import { listPartners, listTerms } from "@/server/partners";
import { getRecurringInvoice } from "@/server/payables";
import { listShares } from "@/server/purchasing";
import { listTaxCodes } from "@/server/taxes";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { RecurringInvoiceForm } from "./RecurringInvoiceForm";

export const metadata = { title: "Recurring invoice" };

export default async function RecurringInvoicePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const { id } = await params;
  const { place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const frame = await frameData();
  const upTo =
    frame.companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? frame.today;
  const found =
    id === "new" ? null : await getRecurringInvoice(caller, { id: Number(id) || 0, upTo });
  if (found && !found.ok)
    return (
      <Page title="Recurring invoice">
        <Problems messages={found.problems.map(describeFound)} />
      </Page>
    );
  const view = found?.ok ? found.value : null;
  const coding = await invoiceLookups(caller, {
    company: view?.company ?? place.company,
    period: place.period,
  });
  if (!coding.ok)
    return (
      <Page title="Recurring invoice">
        <Problems messages={coding.problems.map(describeFound)} />
      </Page>
    );
  const [suppliers, terms, taxes, shares] = [
    await listPartners(caller, { role: "supplier" }),
    await listTerms(caller),
    await listTaxCodes(caller, { direction: "purchase" }),
    await listShares(caller),
  ];
  return (
    <RecurringInvoiceForm
      key={view ? `${view.id} ${view.version}` : "new"}
      view={view}
      start={view?.template.invoice ?? invoiceInput({ company: place.company })}
      lookups={{
        ...coding.value,
        suppliers: suppliers.ok ? suppliers.value.map(({ code, name }) => ({ code, name })) : [],
        terms: terms.ok ? terms.value.map(({ code, name }) => ({ code, name })) : [],
        taxes: taxes.ok
          ? taxes.value
              .filter((t) => !t.blocked && t.kind !== "withheld")
              .map(({ code, name }) => ({ code, name }))
          : [],
        shares: shares.ok ? shares.value.map(({ code, name }) => ({ code, name })) : [],
      }}
    />
  );
}
