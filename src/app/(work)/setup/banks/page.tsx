import { describeFound } from "@/core/shared";
import { listBankAccounts, listBanks } from "@/server/banks";
import { chart } from "@/server/ledger";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { BankAccounts } from "./BankAccounts";

export const metadata = { title: "Bank accounts" };

export default async function BankAccountsPage() {
  const caller = await pageCaller();
  const result = await listBankAccounts(caller);
  const banks = await listBanks(caller);
  const accounts = await chart(caller);
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
      banks={banks.ok ? banks.value : []}
      ledgerAccounts={accounts.ok ? accounts.value.accounts.map((a) => a.number) : []}
      mayAddAccounts={accounts.ok && person.groupRights.includes("setup.organisation")}
      mayChange={person.rights.includes("setup.rules") || person.rights.includes("prepare.banks")}
      maySign={person.rights.includes("setup.rules")}
    />
  );
}
