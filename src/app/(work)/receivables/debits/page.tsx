import { nextBankDay } from "@/core/banks";
import { firstDayToTell, USUAL_NOTICE } from "@/core/receivables";
import { describeFound } from "@/core/shared";
import { listDebitRuns, receivingAccounts } from "@/server/receivables";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { DebitsPage } from "./DebitsPage";

export const metadata = { title: "Direct debits" };

export default async function Debits({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const runs = await listDebitRuns(caller, { company: place.company });
  if (!runs.ok)
    return (
      <Page title="Direct debits">
        <Problems messages={runs.problems.map(describeFound)} />
      </Page>
    );
  const accounts = await receivingAccounts(caller, { company: place.company });
  const { today } = await frameData();
  const date = nextBankDay(firstDayToTell(today, USUAL_NOTICE), "EUR");
  return (
    <DebitsPage
      runs={runs.value}
      accounts={accounts.ok ? accounts.value.filter((a) => a.currency === "EUR") : []}
      date={date}
    />
  );
}
