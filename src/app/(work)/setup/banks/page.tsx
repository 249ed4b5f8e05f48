import { describeFound } from "@/core/shared";
import { listBankAccounts } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { BankAccounts } from "./BankAccounts";

export const metadata = { title: "Bank accounts" };

export default async function BankAccountsPage() {
  const result = await listBankAccounts(await pageCaller());
  const { person } = await frameData();
  if (!result.ok)
    return (
      <Page title="Bank accounts">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <BankAccounts
      rows={result.value}
      mayChange={person.rights.includes("setup.rules") || person.rights.includes("prepare.banks")}
      maySign={person.rights.includes("setup.rules")}
    />
  );
}
