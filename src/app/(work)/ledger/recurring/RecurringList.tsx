"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import type { RecurringRow } from "@/server/ledger";
import {
  dueColumn,
  lastColumn,
  nameColumn,
  rhythmColumn,
  statusColumn,
} from "@/app/recurring/recurringColumns";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useProposeRun } from "@/app/lib/useProposeRun";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownDate } from "@/ui/writing";

/** Journals that come again, with what is due; a run makes and posts them after a look at it. */
export function RecurringList({ rows, upTo }: { rows: RecurringRow[]; upTo: string }) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, propose } = useProposeRun("recurring");
  const [chosen, setChosen] = useState<string[]>([]);
  const columns = useMemo(
    (): TableColumn<RecurringRow>[] => [
      nameColumn(),
      statusColumn(),
      rhythmColumn(),
      {
        key: "first",
        header: "First date",
        width: 104,
        value: (r) => r.rhythm.first,
        cell: (r) => shownDate(r.rhythm.first),
      },
      {
        key: "until",
        header: "Last date",
        width: 104,
        value: (r) => r.rhythm.until,
        cell: (r) => (r.rhythm.until ? shownDate(r.rhythm.until) : "without end"),
      },
      lastColumn("Last posted"),
      dueColumn(),
      { key: "by", header: "Set up by", width: 120, value: (r) => r.by },
    ],
    [],
  );
  const due = rows
    .filter((r) => chosen.length === 0 || chosen.includes(String(r.id)))
    .reduce((n, r) => n + r.due.length, 0);
  return (
    <Page
      strip={<PeriodStrip />}
      title="Recurring journals"
      note={`due by ${shownDate(upTo)}`}
      actions={
        <>
          {work.may("prepare.ledger") && (
            <Link className="button" href={work.link("/ledger/recurring/new")}>
              New recurring journal
            </Link>
          )}
          {work.may("post.ledger") && due > 0 && (
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={() => void propose({ upTo, only: chosen.map(Number) })}
            >
              Preview {due} {due === 1 ? "journal" : "journals"}
            </button>
          )}
        </>
      }
    >
      <Problems messages={messages} />
      <DataTable
        name="recurring"
        rows={rows}
        columns={columns}
        rowKey={(r) => String(r.id)}
        currency={work.company?.currency ?? "EUR"}
        selectable
        onSelect={setChosen}
        onOpen={(r) => router.push(work.link(`/ledger/recurring/${r.id}`))}
        empty={
          <Empty title="No recurring journal yet">
            Rent, insurance, a share of revenue: what comes again is set up once, from scratch or
            from a journal that stands there.{" "}
            {work.may("prepare.ledger") && (
              <Link className="link" href={work.link("/ledger/recurring/new")}>
                Set one up
              </Link>
            )}
          </Empty>
        }
      />
    </Page>
  );
}
