"use client";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import type { DueReversal } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useProposeRun } from "@/app/lib/useProposeRun";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";

/**
 * Journals whose day of reversal has come; a run reverses them together, after a look at what it
 * would post.
 */
export function DueList({ rows, upTo }: { rows: DueReversal[]; upTo: string }) {
  const work = useWork();
  const router = useRouter();
  const currency = work.company?.currency ?? "EUR";
  const { busy, messages, propose } = useProposeRun("reversals");
  const columns = useMemo(
    (): TableColumn<DueReversal>[] => [
      {
        key: "reverseOn",
        header: "Reversal date",
        width: 120,
        value: (r) => r.reverseOn,
        cell: (r) => shownDate(r.reverseOn),
      },
      {
        key: "number",
        header: "Journal",
        width: 130,
        value: (r) => r.number,
        cell: (r) => <b className="font-semibold">{r.number}</b>,
      },
      {
        key: "date",
        header: "Journal date",
        width: 120,
        value: (r) => r.date,
        cell: (r) => shownDate(r.date),
      },
      { key: "type", header: "Type", width: 120, value: (r) => r.type },
      { key: "description", header: "Description", value: (r) => r.description },
      {
        key: "total",
        header: "Total",
        width: 140,
        align: "right",
        sum: true,
        value: (r) => r.total,
        cell: (r) => shownAmount(r.total, currency),
      },
    ],
    [currency],
  );
  return (
    <Page
      strip={<PeriodStrip />}
      title="Due reversals"
      note={`by ${shownDate(upTo)}`}
      actions={
        work.may("reverse.ledger") &&
        rows.length > 0 && (
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={() => void propose({ upTo })}
          >
            Preview {rows.length} {rows.length === 1 ? "reversal" : "reversals"}
          </button>
        )
      }
    >
      <Problems messages={messages} />
      <DataTable
        name="reversals"
        rows={rows}
        columns={columns}
        rowKey={(r) => String(r.id)}
        currency={currency}
        onOpen={(r) => router.push(work.link(`/ledger/journals/${r.id}`))}
        empty={
          <Empty title="Nothing is due">
            Journals with a day of reversal appear here once that day lies in the period in view or
            before it.
          </Empty>
        }
      />
    </Page>
  );
}
