import { describeFound } from "@/core/shared";
import { listAssetClasses } from "@/server/assets";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ClassList } from "./ClassList";

export const metadata = { title: "Classes of assets" };

export default async function ClassesPage() {
  const result = await listAssetClasses(await pageCaller());
  const { person, books } = await frameData();
  return result.ok ? (
    <ClassList
      rows={result.value}
      books={books.map((b) => b.code)}
      mayChange={
        person.groupRights.includes("prepare.assets") || person.groupRights.includes("setup.rules")
      }
    />
  ) : (
    <Page title="Classes of assets">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
