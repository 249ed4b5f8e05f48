import { describeFound } from "@/core/shared";
import { listDeposits } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { DepositList } from "./DepositList";

export const metadata = { title: "Deposits" };

export default async function DepositsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await listDeposits(await pageCaller(), { company: place.company });
  return result.ok ? (
    <DepositList rows={result.value} />
  ) : (
    <Page title="Deposits">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
