import { describeFound } from "@/core/shared";
import { bankFolder, listStatementFiles } from "@/server/banks";
import { booksBankFolder } from "@/server/runtime";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { FileList } from "./FileList";
import { Folder } from "./Folder";

export const metadata = { title: "Files of statements" };

export default async function FilesPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await listStatementFiles(await pageCaller(), { company: place.company });
  const folder = await bankFolder(await pageCaller(), {});
  return result.ok ? (
    <FileList
      rows={result.value}
      folder={folder.ok && <Folder folder={folder.value} path={booksBankFolder()} />}
    />
  ) : (
    <Page title="Files of statements">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
