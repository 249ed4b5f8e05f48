"use client";
import Link from "next/link";
import { useCallback, useMemo } from "react";
import { endOfMonth, minor, type CalendarDate, type Minor } from "@/core/shared";
import type { Schedule, ScheduleRow } from "@/server/assets";
import { useProposeRun } from "@/app/lib/useProposeRun";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact, Page, Problems } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { shownAmount, shownDate } from "@/ui/writing";

type Amount = {
  [K in keyof ScheduleRow]: ScheduleRow[K] extends Minor ? K : never;
}[keyof ScheduleRow];

const amount = (key: Amount, header: string, width = 132): TableColumn<ScheduleRow> => ({
  key,
  header,
  width,
  align: "right",
  sum: true,
  value: (r) => r[key],
});

const RARE = ["takenOver", "retired", "chargedBefore", "chargedRetired"] as const;

/** What has moved the assets of a company, by class, and what is next to be charged. */
export function SchedulePage({
  schedule: { rows, held, chargedUpTo },
  from,
  to,
  book,
}: {
  schedule: Schedule;
  from: CalendarDate;
  to: CalendarDate;
  book: string;
}) {
  const work = useWork();
  const { busy, messages, propose } = useProposeRun("depreciation");
  const currency = work.company?.currency ?? "EUR";
  const mayPost = work.may("post.assets");
  const period = to.slice(0, 7);
  const run = useCallback(() => void (mayPost && propose({ period })), [mayPost, propose, period]);
  usePrimaryKeys(undefined, run);
  const listed = rows.reduce((t, r) => t + r.carried, 0n);
  const columns = useMemo(() => {
    const whole: TableColumn<ScheduleRow>[] = [
      {
        key: "name",
        header: "Class",
        width: 210,
        value: (r) => r.name || "Without an asset",
        cell: (r) =>
          r.code === "" ? (
            <Link className="link" href={work.link("/assets/intake")}>
              Without an asset
            </Link>
          ) : (
            <Link
              className="link"
              href={work.link("/assets/register", { filters: `className=${r.name}` })}
            >
              {r.name}
            </Link>
          ),
      },
      { key: "assets", header: "Assets", width: 66, align: "right", value: (r) => r.assets },
      amount("costOpening", "Cost, opening"),
      amount("takenOver", "Taken over"),
      amount("additions", "Additions"),
      amount("retired", "Retired"),
      amount("cost", "Cost, closing"),
      amount("chargedOpening", "Accumulated, opening"),
      amount("chargedBefore", "Taken over, accumulated"),
      amount("charged", "Depreciation"),
      amount("chargedRetired", "Retired, accumulated"),
      amount("accumulated", "Accumulated, closing"),
      amount("carried", "Carrying amount"),
    ];
    // What happens rarely has a column where it has happened.
    const isRare = (key: string): key is Amount => (RARE as readonly string[]).includes(key);
    return whole.filter(({ key }) => !isRare(key) || rows.some((r) => r[key] !== 0n));
  }, [work, rows]);
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Assets"
      note={`what has moved them in ${book}, from ${shownDate(from)} to ${shownDate(to)}`}
      actions={
        mayPost && (
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={run}
            data-keys="Ctrl Shift Enter=Preview depreciation"
          >
            Preview depreciation to {shownDate(to)} <kbd>Ctrl ⇧ ⏎</kbd>
          </button>
        )
      }
      footer={
        <>
          <Fact label="Carrying amount">
            {shownAmount(minor(listed), currency)} {currency}
          </Fact>
          <Fact label="On the accounts" tone={held === listed ? "good" : "bad"}>
            {shownAmount(held, currency)}
          </Fact>
          <span className="text-ink-2">
            {chargedUpTo
              ? `Depreciated by runs up to ${shownDate(endOfMonth(`${chargedUpTo}-01`))}.`
              : "No depreciation run has been posted yet."}
          </span>
        </>
      }
    >
      <Problems messages={messages} />
      <DataTable
        name="asset-schedule"
        rows={rows}
        columns={columns}
        rowKey={(r) => r.code}
        currency={currency}
        empty={
          <Empty title="No asset yet">
            {work.may("prepare.assets") ? (
              <>
                A <Link href={work.link("/assets/classes")}>class</Link> says which accounts it uses
                and how it is depreciated; then what is booked on its clearing account waits in the{" "}
                <Link href={work.link("/assets/intake")}>intake</Link>.
              </>
            ) : (
              "What the company owns and uses for years is listed here by class."
            )}
          </Empty>
        }
      />
    </Page>
  );
}
