import { describeFound } from "@/core/shared";
import { accountControl, listBankAccounts, listBanks, listReadings } from "@/server/banks";
import { chart } from "@/server/ledger";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { BankAccounts } from "./BankAccounts";

export const metadata = { title: "Bank accounts" };

export default async function BankAccountsPage({ searchParams }: { searchParams: SearchParams }) {
  const caller = await pageCaller();
  const result = await listBankAccounts(caller);
  const banks = await listBanks(caller);
  const accounts = await chart(caller);
  const control = await accountControl(caller);
  const readings = await listReadings(caller);
  const { address } = await readAddress(searchParams);
  const { person } = await frameData();
  if (!result.ok)
    return (
      <Page title="Bank accounts">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <BankAccounts
      key={address.copy ?? ""}
      copied={result.value.find((b) => b.code === address.copy) ?? null}
      secondPerson={control.ok && control.value.secondPerson}
      rows={result.value}
      readings={readings.ok ? readings.value : []}
      banks={banks.ok ? banks.value : []}
      ledgerAccounts={accounts.ok ? accounts.value.accounts.map((a) => a.number) : []}
      mayAddAccounts={accounts.ok && person.groupRights.includes("setup.organisation")}
      mayChange={person.rights.includes("setup.rules") || person.rights.includes("prepare.banks")}
      maySign={person.rights.includes("setup.rules")}
    />
  );
}
