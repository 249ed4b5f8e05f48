import { describeFound } from "@/core/shared";
import { changesSince } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { readAddress, reportInput, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ChangeList } from "./ChangeList";

export const metadata = { title: "What changed" };

export default async function ChangesPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const since = address.since ?? "2000-01-01T00:00";
  const result = await changesSince(await pageCaller(), {
    ...reportInput({ ...place, asKnown: null }),
    since,
  });
  return (
    <Page
      strip={<PeriodStrip />}
      title="What changed"
      note={`journals posted since ${since.replace("T", " ").slice(0, 16)} UTC that reach the periods to the one in view`}
    >
      {result.ok && result.value.more && (
        <p className="notice">
          These are the newest {result.value.rows.length}; more were posted since then. Choose a
          later moment to see all.
        </p>
      )}
      {result.ok ? (
        <ChangeList rows={result.value.rows} />
      ) : (
        <Problems messages={result.problems.map(describeFound)} />
      )}
    </Page>
  );
}
