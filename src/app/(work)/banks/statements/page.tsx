import { isAtBank } from "@/core/banks";
import { describeFound } from "@/core/shared";
import { listBankAccounts, listStatements } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { StatementList } from "./StatementList";

export const metadata = { title: "Bank statements" };

export default async function StatementsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const result = await listStatements(caller, { company: place.company });
  if (!result.ok)
    return (
      <Page title="Bank statements">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const accounts = await listBankAccounts(caller, {});
  return (
    <StatementList
      rows={result.value}
      accounts={
        accounts.ok ? accounts.value.filter((a) => a.company === place.company && isAtBank(a)) : []
      }
    />
  );
}
