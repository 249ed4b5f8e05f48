import { describeFound } from "@/core/shared";
import { documentChain } from "@/server/documents";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { ChainPicture } from "./ChainPicture";

export const metadata = { title: "Chain" };

export default async function ChainPage({ params }: { params: Promise<{ id: string }> }) {
  const id = Number((await params).id) || 0;
  const result = await documentChain(await pageCaller(), { id });
  return result.ok ? (
    <ChainPicture {...result.value} id={id} />
  ) : (
    <Page title="Chain">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
