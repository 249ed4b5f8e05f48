import { describeFound } from "@/core/shared";
import { getLetterLayout } from "@/server/letters";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { LettersPage } from "./LettersPage";

export const metadata = { title: "Letters" };

export default async function LettersScreen({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await getLetterLayout(await pageCaller(), { company: place.company });
  const { person } = await frameData();
  return result.ok ? (
    <LettersPage
      key={place.company}
      layout={result.value}
      mayChange={person.rights.some((r) => r === "setup.organisation" || r === "setup.rules")}
    />
  ) : (
    <Page title="Letters">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
