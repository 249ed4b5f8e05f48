import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { chart } from "@/server/ledger";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { Accounts } from "./Accounts";

export const metadata = { title: "Chart of accounts" };

export default async function AccountsPage() {
  const result = await chart(await pageCaller());
  const { person, dimensions } = await frameData();
  if (!result.ok)
    return (
      <Page title="Chart of accounts">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { headings, accounts } = result.value;
  return (
    <Accounts
      headings={[...headings]}
      accounts={[...accounts]}
      dimensions={dimensions}
      mayChange={person.groupRights.includes("setup.organisation")}
    />
  );
}
