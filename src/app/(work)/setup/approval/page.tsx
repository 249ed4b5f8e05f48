import { listApprovalRules } from "@/server/approvals";
import { journalTypes } from "@/server/ledger";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ApprovalRules } from "./ApprovalRules";

export const metadata = { title: "Approval" };

export default async function ApprovalPage() {
  const caller = await pageCaller();
  const result = await listApprovalRules(caller);
  if (!result.ok)
    return (
      <Page title="Approval">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const types = await journalTypes(caller);
  const { person, companies } = await frameData();
  return (
    <ApprovalRules
      rows={result.value}
      types={
        types.ok
          ? types.value.filter((t) => t.manual).map(({ code, name }) => ({ code, name }))
          : []
      }
      companies={companies.map(({ code, name }) => ({ code, name }))}
      mayChange={person.rights.includes("setup.rules")}
    />
  );
}
