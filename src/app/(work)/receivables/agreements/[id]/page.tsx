import { saleInput } from "@/core/receivables";
import { describeFound } from "@/core/shared";
import { invoiceLookups } from "@/server/ledger";
import { listPartners, listTerms } from "@/server/partners";
import { listShares } from "@/server/purchasing";
import { getAgreement, priceIndices } from "@/server/receivables";
import { listTaxCodes } from "@/server/taxes";
import { paperLookups } from "@/app/trade/paperLookups";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
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
  const customers = await listPartners(caller, { role: "customer" });
  const indices = await priceIndices(caller);
  return (
    <AgreementForm
      key={view ? `${view.id} ${view.version}` : "new"}
      view={view}
      start={view?.agreement.sale ?? saleInput({ company, customer: address.customer ?? "" })}
      lookups={{
        ...paperLookups(coding.value, {
          terms: await listTerms(caller),
          taxes: await listTaxCodes(caller, { direction: "sale" }),
          shares: await listShares(caller),
        }),
        customers: customers.ok ? customers.value.filter((c) => !c.blocked) : [],
      }}
      indices={indices.ok ? indices.value.map(({ code, name }) => ({ code, name })) : []}
    />
  );
}
