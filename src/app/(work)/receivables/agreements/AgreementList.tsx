"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { AgreementRow } from "@/server/receivables";
import { useProposeRun } from "@/app/lib/useProposeRun";
import {
  dueColumn,
  lastColumn,
  nameColumn,
  rhythmColumn,
  statusColumn,
} from "@/app/recurring/recurringColumns";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { shownDate, shownFigures } from "@/ui/writing";

const COLUMNS: TableColumn<AgreementRow>[] = [
  nameColumn(),
  statusColumn(),
  { key: "customer", header: "Customer", width: 200, value: (r) => r.customerName },
  rhythmColumn(),
  {
    key: "index",
    header: "Prices follow",
    width: 150,
    value: (r) => r.index,
    cell: (r) =>
      r.index === ""
        ? ""
        : `${r.index}${r.move ? `, ${shownFigures(r.move.percent)} %` : ", no value yet"}`,
  },
  lastColumn("Last date"),
  dueColumn(),
  {
    key: "until",
    header: "Until",
    width: 104,
    value: (r) => r.until ?? "",
    cell: (r) => (r.until ? shownDate(r.until) : ""),
  },
];

/** What was agreed with customers, with what is due to be invoiced; a run makes the invoices. */
export function AgreementList({ rows, upTo }: { rows: AgreementRow[]; upTo: string }) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, propose } = useProposeRun("agreement");
  const [chosen, setChosen] = useState<string[]>([]);
  const due = rows
    .filter((r) => chosen.length === 0 || chosen.includes(String(r.id)))
    .reduce((n, r) => n + r.due.length, 0);
  const mayRun = work.may("post.receivables") && due > 0 && !busy;
  const preview = () => void propose({ upTo, only: chosen.map(Number) });
  usePrimaryKeys(undefined, mayRun ? preview : undefined);
  return (
    <Page
      strip={<PeriodStrip />}
      title="Agreements"
      note={`to be invoiced by ${shownDate(upTo)}`}
      actions={
        <>
          {work.may("prepare.receivables") && (
            <Link className="button" href={work.link("/receivables/agreements/new")}>
              New agreement
            </Link>
          )}
          {work.may("post.receivables") && due > 0 && (
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={preview}
              data-keys="Ctrl Shift Enter=Preview the invoices"
            >
              Preview {due} {due === 1 ? "invoice" : "invoices"} <kbd>Ctrl ⇧ ⏎</kbd>
            </button>
          )}
        </>
      }
    >
      <Problems messages={messages} />
      <DataTable
        name="agreements"
        rows={rows}
        columns={COLUMNS}
        rowKey={(r) => String(r.id)}
        currency={work.company?.currency ?? "EUR"}
        selectable
        onSelect={setChosen}
        onOpen={(r) => router.push(work.link(`/receivables/agreements/${r.id}`))}
        empty={
          <Empty title="No agreement yet">
            A berth by the year, a season ticket by the month: agreed once, invoiced in time, at
            prices that can follow an index.{" "}
            {work.may("prepare.receivables") && (
              <Link className="link" href={work.link("/receivables/agreements/new")}>
                Enter one
              </Link>
            )}
          </Empty>
        }
      />
    </Page>
  );
}
