import { describeFound } from "@/core/shared";
import { getRun } from "@/server/runs";
import "@/server/closing";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { RunPage } from "./RunPage";

export default async function RunScreen({ params }: { params: Promise<{ key: string }> }) {
  const { key } = await params;
  const result = await getRun(await pageCaller(), { key: decodeURIComponent(key) });
  return result.ok ? <RunPage run={result.value} /> : <Page title="Run"><Problems messages={result.problems.map(describeFound)} /></Page>;
}
