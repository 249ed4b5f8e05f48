import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { describeFound } from "@/core/shared";
import { listCleaned, listGrni } from "@/server/purchasing";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Fact, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { AsKnown } from "@/ui/AsKnown";
import { asKnownNote, frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { ReceivedTable } from "./ReceivedTable";
import { shownAmount, shownDate } from "@/ui/writing";

export const metadata = { title: "GRNI: received, not invoiced" };

/**
 * What is received and not invoiced, by receipt line and age, held against its control account; and
 * what was cleaned up.
 */
export default async function ReceivedPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const frame = await frameData();
  const periods = frame.companies.find((c) => c.code === place.company)?.periods ?? [];
  const period = periods.find((p) => p.key === place.period);
  const current = periods.find(
    (p) => !p.adjustment && p.start <= frame.today && frame.today <= p.end,
  );
  const on = address.on ?? (period && period.end < frame.today ? period.end : frame.today);
  const caller = await pageCaller();
  const result = await listGrni(caller, {
    company: place.company,
    on,
    ...(place.asKnown ? { asKnown: place.asKnown } : {}),
  });
  const cleaned =
    address.cleaned === "1" ? await listCleaned(caller, { company: place.company }) : null;
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="GRNI: received, not invoiced">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const g = result.value;
  return (
    <Page
      strip={<PeriodStrip />}
      title="GRNI: received, not invoiced"
      note={`on ${shownDate(on)}${place.asKnown ? asKnownNote(place.asKnown) : ""}`}
      actions={
        <>
          <AsKnown />
          <Link
            className="button"
            href={`/payables/received?${placeQuery(place)}${cleaned ? "" : "&cleaned=1"}`}
          >
            {cleaned ? "What is left" : "What was cleaned up"}
          </Link>
          <Link className="button" href={`/payables/rules?${placeQuery(place)}`}>
            Rules
          </Link>
        </>
      }
      footer={
        <>
          <Fact label={`Open amount, ${g.currency}`}>{shownAmount(g.total, g.currency)}</Fact>
          <Fact label={`Control account ${g.account}`}>
            <Link
              className="figure"
              href={`/ledger/accounts/${encodeURIComponent(g.account)}?${placeQuery(place)}`}
            >
              {shownAmount(g.control, g.currency)}
            </Link>
          </Fact>
          <Fact label="Lines">{g.rows.length}</Fact>
          <span className="ml-auto flex items-center gap-3 text-ink-2">
            <Status of={g.agrees ? "agrees" : "differs"} />
            {g.agrees
              ? "The leftovers equal the control account."
              : `They differ by ${shownAmount(g.control - g.total, g.currency)}. Run verify before anything else.`}
          </span>
        </>
      }
    >
      {cleaned && !cleaned.ok && <Problems messages={cleaned.problems.map(describeFound)} />}
      <ReceivedTable
        rows={g.rows}
        cleaned={cleaned?.ok ? cleaned.value : null}
        on={on}
        today={frame.today}
        current={current?.key ?? null}
        currency={g.currency}
      />
    </Page>
  );
}
