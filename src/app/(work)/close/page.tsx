import { describeFound } from "@/core/shared";
import { closeBoard } from "@/server/closing";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { CloseActions, CloseTable } from "./CloseBoard";

export const metadata = { title: "Close" };

export default async function ClosePage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await closeBoard(await pageCaller(), {
    company: place.company,
    book: place.book,
    period: place.period,
  });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Close">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const board = result.value;
  const failing = board.checks.filter((c) => c.state === "fails").length;
  return (
    <Page
      strip={<PeriodStrip />}
      title={`Close of ${board.periodName}`}
      status={<Status of={board.state} />}
      note={`${board.companyName} · ${board.book} · ${failing === 0 ? "every check that decides holds" : `${failing} of ${board.checks.length} checks fail`}`}
      actions={<CloseActions board={board} />}
    >
      <CloseTable board={board} />
    </Page>
  );
}
