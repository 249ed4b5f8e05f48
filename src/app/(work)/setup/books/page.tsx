import { describeFound } from "@/core/shared";
import { listBooks } from "@/server/organisation";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { Page, Problems } from "@/ui/Page";
import { Books } from "./Books";

export const metadata = { title: "Books" };

export default async function BooksPage() {
  const result = await listBooks(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <Books rows={result.value} mayChange={person.groupRights.includes("setup.organisation")} />
  ) : (
    <Page title="Books">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
