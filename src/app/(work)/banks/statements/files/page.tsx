import { describeFound } from "@/core/shared";
import { listStatementFiles } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { FileList } from "./FileList";

export const metadata = { title: "Files of statements" };

export default async function FilesPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await listStatementFiles(await pageCaller(), { company: place.company });
  return result.ok ? (
    <FileList rows={result.value} />
  ) : (
    <Page title="Files of statements">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
