import { describeFound } from "@/core/shared";
import { askedLine } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { AskedAbout } from "./AskedAbout";

export const metadata = { title: "Statement line" };

/** A line of a bank's statement to somebody who is asked about it. */
export default async function AskedLinePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const result = await askedLine(await pageCaller(), { id: Number(id) || 0 });
  return result.ok ? (
    <AskedAbout line={result.value} />
  ) : (
    <Page title="Statement line">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
