import { describeFound } from "@/core/shared";
import { listCollectors, listCustomerGroups } from "@/server/partners";
import { listLetterRuns } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { LettersPage } from "./LettersPage";

export const metadata = { title: "Letters to customers" };

export default async function Letters({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const runs = await listLetterRuns(caller, { company: place.company });
  if (!runs.ok)
    return (
      <Page strip={<PeriodStrip />} title="Letters to customers">
        <Problems messages={runs.problems.map(describeFound)} />
      </Page>
    );
  const groups = await listCustomerGroups(caller);
  const collectors = await listCollectors(caller);
  return (
    <LettersPage
      runs={runs.value}
      groups={groups.ok ? groups.value : []}
      collectors={collectors.ok ? collectors.value : []}
      asked={{
        customers: (address.customers ?? "").split(",").filter(Boolean),
        collector: address.collector ?? "",
      }}
      today={(await frameData()).today}
    />
  );
}
