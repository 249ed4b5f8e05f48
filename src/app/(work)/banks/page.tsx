import { describeFound } from "@/core/shared";
import { bankPosition, listReconciliations } from "@/server/banks";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { asKnownNote, frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { PositionView } from "./PositionView";

export const metadata = { title: "Bank reconciliation" };

/** Each bank account at the end of the period, or today: the bank, the ledger, and what lies between. */
export default async function BanksPage({ searchParams }: { searchParams: SearchParams }) {
  const { place, address } = await readAddress(searchParams);
  const frame = await frameData();
  const period = frame.companies
    .find((c) => c.code === place.company)
    ?.periods.find((p) => p.key === place.period);
  const date = period && period.end < frame.today ? period.end : frame.today;
  const caller = await pageCaller();
  const result = await bankPosition(caller, {
    company: place.company,
    date,
    ...(place.asKnown ? { asKnown: place.asKnown } : {}),
  });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Bank reconciliation">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const closed = await listReconciliations(caller, { company: place.company });
  return (
    <PositionView
      rows={result.value}
      closed={closed.ok ? closed.value : []}
      date={date}
      open={address.account ?? ""}
      thenNote={place.asKnown ? asKnownNote(place.asKnown) : ""}
    />
  );
}
