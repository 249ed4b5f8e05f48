"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import type { RecurringInvoiceRow } from "@/server/payables";
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
import { shownAmount, shownDate } from "@/ui/writing";

/**
 * Invoices that come again, with what is due; a run makes drafts of them that wait for the paper.
 */
export function RecurringInvoiceList({
  rows,
  upTo,
}: {
  rows: RecurringInvoiceRow[];
  upTo: string;
}) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, propose } = useProposeRun("recurring-invoice");
  const [chosen, setChosen] = useState<string[]>([]);
  const columns = useMemo(
    (): TableColumn<RecurringInvoiceRow>[] => [
      nameColumn(),
      statusColumn(),
      { key: "suppliers", header: "Suppliers", width: 160, value: (r) => r.suppliers.join(", ") },
      rhythmColumn(),
      lastColumn("Last date"),
      dueColumn(),
      {
        key: "agreed",
        header: "Agreed total",
        width: 124,
        align: "right",
        value: (r) => r.agreed ?? 0n,
        cell: (r) => (r.agreed === null ? "" : shownAmount(r.agreed, r.currency)),
      },
      {
        key: "left",
        header: "Remaining amount",
        width: 134,
        align: "right",
        value: (r) => r.left ?? 0n,
        cell: (r) => (r.left === null ? "" : shownAmount(r.left, r.currency)),
      },
    ],
    [],
  );
  const due = rows
    .filter((r) => chosen.length === 0 || chosen.includes(String(r.id)))
    .reduce((n, r) => n + r.due.length * r.suppliers.length, 0);
  return (
    <Page
      strip={<PeriodStrip />}
      title="Recurring invoices"
      note={`due by ${shownDate(upTo)}`}
      actions={
        <>
          {work.may("prepare.payables") && (
            <Link className="button" href={work.link("/payables/recurring/new")}>
              New template
            </Link>
          )}
          {work.may("post.payables") && due > 0 && (
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={() => void propose({ upTo, only: chosen.map(Number) })}
            >
              Preview {due} {due === 1 ? "invoice" : "invoices"}
            </button>
          )}
        </>
      }
    >
      <Problems messages={messages} />
      <DataTable
        name="recurring-invoices"
        rows={rows}
        columns={columns}
        rowKey={(r) => String(r.id)}
        currency={work.company?.currency ?? "EUR"}
        selectable
        onSelect={setChosen}
        onOpen={(r) => router.push(work.link(`/payables/recurring/${r.id}`))}
        empty={
          <Empty title="No recurring invoice yet">
            A premium every quarter, the rent of a depot: set up once, made in time, and waiting for
            the paper.{" "}
            {work.may("prepare.payables") && (
              <Link className="link" href={work.link("/payables/recurring/new")}>
                Set one up
              </Link>
            )}
          </Empty>
        }
      />
    </Page>
  );
}
