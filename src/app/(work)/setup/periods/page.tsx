import { describeFound } from "@/core/shared";
import { periodMatrix } from "@/server/organisation";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { PeriodMatrixPage } from "./PeriodMatrix";

export const metadata = { title: "Years and periods" };

export default async function PeriodsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await periodMatrix(await pageCaller(), {
    company: place.company,
    book: place.book,
  });
  return result.ok ? (
    <PeriodMatrixPage key={`${place.company}${place.book}`} matrix={result.value} />
  ) : (
    <Page title="Years and periods">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
