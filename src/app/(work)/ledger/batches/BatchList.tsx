"use client";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import type { BatchRow } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { BatchForm } from "./BatchForm";
import { shownAmount } from "@/ui/writing";

/** Batches of a company, with what their papers add up to and what is entered. */
export function BatchList({ list }: { list: StartOfList<BatchRow> }) {
  const { rows, pages } = useListPages("batches", list);
  const work = useWork();
  const router = useRouter();
  const [adding, setAdding] = useState(false);
  const texts = (r: BatchRow, of: "control" | "entered" | "difference") =>
    r.lines
      .filter((l) => l[of] !== null && (of !== "difference" || l.difference !== 0n))
      .map((l) => `${shownAmount(l[of]!, l.currency)} ${l.currency}`)
      .join(" · ");
  const columns = useMemo(
    (): TableColumn<BatchRow>[] => [
      {
        key: "name",
        header: "Batch",
        value: (r) => r.name,
        cell: (r) => <b className="font-semibold">{r.name}</b>,
      },
      {
        key: "status",
        header: "Status",
        width: 110,
        value: (r) => r.status,
        cell: (r) => <Status of={r.status} quiet />,
      },
      { key: "period", header: "Period", width: 90, value: (r) => r.period },
      { key: "journals", header: "Journals", width: 90, align: "right", value: (r) => r.journals },
      {
        key: "control",
        derived: true,
        header: "Control total",
        width: 170,
        align: "right",
        value: (r) => texts(r, "control"),
      },
      {
        key: "entered",
        derived: true,
        header: "Entered total",
        width: 170,
        align: "right",
        value: (r) => texts(r, "entered"),
      },
      {
        key: "difference",
        derived: true,
        header: "Difference",
        width: 170,
        align: "right",
        value: (r) => texts(r, "difference"),
        cell: (r) => <span className="font-semibold text-coral">{texts(r, "difference")}</span>,
      },
      { key: "by", header: "Prepared by", width: 130, value: (r) => r.by },
    ],
    [],
  );
  return (
    <Page
      strip={<PeriodStrip />}
      title="Batches"
      note={work.company?.name}
      actions={
        work.may("prepare.ledger") && (
          <button type="button" className="button button-main" onClick={() => setAdding(true)}>
            New batch
          </button>
        )
      }
    >
      {adding && (
        <BatchForm
          batch={null}
          onSaved={(id) => router.push(work.link(`/ledger/batches/${id}`))}
          onLeave={() => setAdding(false)}
        />
      )}
      <DataTable
        name="batches"
        rows={rows}
        pages={pages}
        kept={list.kept.columns}
        keep={(v) => void keepPreference("table.batches", v)}
        columns={columns}
        rowKey={(r) => String(r.id)}
        currency={work.company?.currency ?? "EUR"}
        onOpen={(r) => router.push(work.link(`/ledger/batches/${r.id}`))}
        empty={
          <Empty title="No batch yet">
            A batch holds journals that are posted together, against the total that their papers add
            up to.
          </Empty>
        }
      />
    </Page>
  );
}
