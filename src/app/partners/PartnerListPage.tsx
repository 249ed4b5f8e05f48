import { describeFound } from "@/core/shared";
import { listCollectors, listCustomerGroups, listPartners, listTerms } from "@/server/partners";
import { listTaxCodes } from "@/server/taxes";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { PartnerList } from "./PartnerList";

export async function PartnerListPage({ role }: { role: "supplier" | "customer" }) {
  const caller = await pageCaller();
  const result = await listPartners(caller, { role });
  const terms = await listTerms(caller);
  const taxes = await listTaxCodes(caller, {
    direction: role === "supplier" ? "purchase" : "sale",
  });
  const people = await listCollectors(caller);
  const groups = await listCustomerGroups(caller);
  const { person } = await frameData();
  if (!result.ok)
    return (
      <Page title={role === "supplier" ? "Suppliers" : "Customers"}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <PartnerList
      role={role}
      rows={result.value}
      terms={terms.ok ? terms.value.map(({ code, name }) => ({ code, name })) : []}
      taxes={
        taxes.ok
          ? taxes.value.filter((t) => !t.blocked).map(({ code, name }) => ({ code, name }))
          : []
      }
      collectors={people.ok ? people.value : []}
      groups={groups.ok ? groups.value : []}
      mayChange={person.rights.includes(
        role === "supplier" ? "prepare.payables" : "prepare.receivables",
      )}
    />
  );
}
