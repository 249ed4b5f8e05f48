import { describeFound } from "@/core/shared";
import { getPartner, listCreditRequests } from "@/server/partners";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { LimitsPage } from "./LimitsPage";

export const metadata = { title: "Credit limits" };

export default async function Limits({ searchParams }: { searchParams: SearchParams }) {
  const { address } = await readAddress(searchParams);
  const caller = await pageCaller();
  const requests = await listCreditRequests(caller);
  const partner = address.partner ? await getPartner(caller, { code: address.partner }) : null;
  const { person } = await frameData();
  return requests.ok ? (
    <LimitsPage
      key={address.partner ?? ""}
      rows={requests.value}
      asked={{
        partner: address.partner ?? "",
        currency: partner?.ok ? partner.value.creditCurrency : "EUR",
      }}
      mayAsk={person.rights.includes("prepare.receivables")}
    />
  ) : (
    <Page title="Credit limits">
      <Problems messages={requests.problems.map(describeFound)} />
    </Page>
  );
}
