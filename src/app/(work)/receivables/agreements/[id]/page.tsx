import { saleInput } from "@/core/receivables";
import { describeFound } from "@/core/shared";
import { invoiceLookups } from "@/server/ledger";
import { getAgreement, priceIndices } from "@/server/receivables";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { saleLookups } from "../../invoices/saleLookups";
import { AgreementForm } from "./AgreementForm";

export const metadata = { title: "Agreement" };

export default async function AgreementPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const { id } = await params;
  const { place, address } = await readAddress(searchParams);
  const caller = await pageCaller();
  const frame = await frameData();
  const refusal = (messages: string[]) => (
    <Page title="Agreement">
      <Problems messages={messages} />
    </Page>
  );
  const upTo =
    frame.companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? frame.today;
  const found = id === "new" ? null : await getAgreement(caller, { id: Number(id) || 0, upTo });
  if (found && !found.ok) return refusal(found.problems.map(describeFound));
  const view = found?.ok ? found.value : null;
  const company = view?.company ?? place.company;
  const coding = await invoiceLookups(caller, { company, period: place.period });
  if (!coding.ok) return refusal(coding.problems.map(describeFound));
  const indices = await priceIndices(caller);
  return (
    <AgreementForm
      key={view ? `${view.id} ${view.version}` : "new"}
      view={view}
      start={view?.agreement.sale ?? saleInput({ company, customer: address.customer ?? "" })}
      lookups={await saleLookups(caller, coding.value)}
      indices={indices.ok ? indices.value.map(({ code, name }) => ({ code, name })) : []}
    />
  );
}
