import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { describeFound } from "@/core/shared";
import { dueDatesOf, type AgedFrom } from "@/core/openItems";
import { ageing, openItems, type Ageing, type ItemArea } from "@/server/openItems";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Fact, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { AsKnown } from "@/ui/AsKnown";
import { asKnownNote, frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { AgeingActions, AgeingTable } from "./AgeingTable";
import { BucketPanel } from "./BucketPanel";
import { shownAmount, shownDate } from "@/ui/writing";

/**
 * What is owed or due by age, for each partner, held against the control accounts on the same day.
 */
export async function AgeingPage({
  area,
  title,
  searchParams,
}: {
  area: ItemArea;
  title: string;
  searchParams: SearchParams;
}) {
  const { address, place } = await readAddress(searchParams);
  const frame = await frameData();
  const period = frame.companies
    .find((c) => c.code === place.company)
    ?.periods.find((p) => p.key === place.period);
  const on = address.on ?? (period && period.end < frame.today ? period.end : frame.today);
  const buckets = (address.buckets ?? "")
    .split(",")
    .map(Number)
    .filter((n) => Number.isInteger(n) && n > 0);
  const result = await ageing(await pageCaller(), {
    company: place.company,
    area,
    on,
    ...(place.asKnown ? { asKnown: place.asKnown } : {}),
    ...(buckets.length > 0 ? { buckets } : {}),
    ...(address.currency ? { currency: address.currency } : {}),
    by: byOf(address),
  });
  const actions = (
    <>
      <AgeingActions
        currencies={result.ok ? result.value.currencies : []}
        area={area}
        on={on}
        buckets={address.buckets ?? "30,60,90"}
        currency={address.currency ?? ""}
        by={byOf(address)}
      />
      <AsKnown />
    </>
  );
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title={title} actions={actions}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const a = result.value;
  const behind = await itemsBehind(a, area, on, address, place);
  return (
    <Page
      strip={<PeriodStrip />}
      title={title}
      note={`${area === "payables" ? "what is owed" : "what is due to us"} on ${shownDate(on)}, by days ${byOf(address) === "due" ? "overdue" : "since the document’s date"}${place.asKnown ? asKnownNote(place.asKnown) : ""}`}
      actions={actions}
      panel={behind && <BucketPanel {...behind} />}
      footer={
        <>
          <Fact label={area === "payables" ? "Owed" : "Due"}>
            {shownAmount(a.total, a.currency)} {a.currency}
          </Fact>
          {a.by === "due" && (
            <Fact label="Overdue" tone={a.total - a.totals[0]! > 0n ? "bad" : "good"}>
              {shownAmount(a.total - a.totals[0]!, a.currency)}
            </Fact>
          )}
          {area === "receivables" && (
            <>
              <Fact label="In dispute">{shownAmount(a.disputed, a.currency)}</Fact>
              <Fact label="Promised">{shownAmount(a.promised, a.currency)}</Fact>
            </>
          )}
          <Fact label={`Control accounts ${a.accounts.join(", ")}`}>
            <Link
              className="figure"
              href={`/ledger/accounts/${encodeURIComponent(a.accounts.join(","))}?${placeQuery(place)}`}
            >
              {shownAmount(a.control, a.currency)}
            </Link>
          </Fact>
          <span className="ml-auto flex items-center gap-3 text-ink-2">
            <Status of={a.agrees ? "agrees" : "differs"} />
            {a.agrees
              ? `The open items equal the control accounts.${
                  a.afterwards === 0n
                    ? ""
                    : ` ${shownAmount(a.afterwards, a.currency)} is posted for later days${area === "payables" ? ", which cash needed counts" : ""}.`
                }`
              : `They differ by ${shownAmount(a.control - a.total, a.currency)}. Run verify before anything else.`}
          </span>
        </>
      }
    >
      <AgeingTable ageing={a} area={area} opened={`${address.bucket ?? ""} ${address.of ?? ""}`} />
    </Page>
  );
}

/** What an age is counted from. */
const byOf = (address: Record<string, string | undefined>): AgedFrom =>
  address.by === "document" ? "document" : "due";

/** The items of the amount that is open: of a bucket, of one partner or of all. */
async function itemsBehind(
  a: Ageing,
  area: ItemArea,
  on: string,
  address: Record<string, string | undefined>,
  place: { company: string; asKnown?: string | null | undefined },
) {
  const bucket = Number(address.bucket ?? NaN);
  const column = a.columns[bucket];
  if (column === undefined) return null;
  const row = address.of === undefined ? null : a.rows.find((r) => r.partner === address.of);
  if (row === undefined) return null;
  const { from, to } = dueDatesOf(bucket, on, a.buckets);
  const found = await openItems(await pageCaller(), {
    company: place.company,
    area,
    on,
    ...(place.asKnown ? { asKnown: place.asKnown } : {}),
    ...(row ? { partner: row.partner } : {}),
    ...(from ? { dueFrom: from } : {}),
    ...(to ? { dueTo: to } : {}),
    by: byOf(address),
  });
  if (!found.ok) return null;
  return {
    title: `${row ? (row.name || "without a partner") + ", " : ""}${bucket === 0 ? column : `${column} days ${byOf(address) === "due" ? "overdue" : "old"}`}`,
    items: found.value.filter((i) => !address.currency || i.currency === address.currency),
    sign: area === "payables" ? -1n : 1n,
    amount: row ? row.buckets[bucket]! : a.totals[bucket]!,
    currency: a.currency,
  };
}
