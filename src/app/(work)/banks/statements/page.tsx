import { describeFound } from "@/core/shared";
import { listStatements } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { StatementList } from "./StatementList";

export const metadata = { title: "Bank statements" };

export default async function StatementsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await listStatements(await pageCaller(), { company: place.company });
  if (!result.ok)
    return (
      <Page title="Bank statements">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return <StatementList rows={result.value} />;
}
