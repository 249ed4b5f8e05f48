import { describeFound } from "@/core/shared";
import { controlAccounts } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { TracePanel } from "@/ui/trace/TracePanel";
import { ControlTables } from "./ControlTables";
import { readAddress, reportInput, type SearchParams } from "./place";
import { pageCaller } from "./session";
import { openTrace } from "./trace";

/** What an area holds in the ledger: its control accounts. */
export async function ControlAccountsPage({
  area,
  title,
  searchParams,
}: {
  area: "banks" | "assets";
  title: string;
  searchParams: SearchParams;
}) {
  const { address, place } = await readAddress(searchParams);
  const result = await controlAccounts(await pageCaller(), { ...reportInput(place), area });
  const open = await openTrace(address, place);
  return (
    <Page
      strip={<PeriodStrip range />}
      title={title}
      note="control accounts"
      panel={<TracePanel {...open} />}
    >
      {result.ok ? (
        <ControlTables data={result.value} />
      ) : (
        <Problems messages={result.problems.map(describeFound)} />
      )}
    </Page>
  );
}
