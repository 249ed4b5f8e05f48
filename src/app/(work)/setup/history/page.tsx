import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { history } from "@/server/access";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { HistoryList } from "./HistoryList";

export const metadata = { title: "History" };

export default async function HistoryPage({ searchParams }: { searchParams: SearchParams }) {
  const { address } = await readAddress(searchParams);
  const result = await history(await pageCaller(), {
    ...(address.kind ? { kind: address.kind } : {}),
    ...(address.before ? { before: Number(address.before) || undefined } : {}),
  });
  return result.ok ? (
    <HistoryList rows={result.value} />
  ) : (
    <Page title="History">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
