import { describeFound } from "@/core/shared";
import { viewStatementFile } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { FileView } from "./FileView";

export const metadata = { title: "File of statements" };

export default async function FilePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const { address } = await readAddress(searchParams);
  const at = Math.max(1, Math.floor(Number(address.at)) || 1);
  const id = Number((await params).id) || 0;
  const result = await viewStatementFile(await pageCaller(), { id, at });
  return result.ok ? (
    <FileView file={result.value} at={at} />
  ) : (
    <Page title="File of statements">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
