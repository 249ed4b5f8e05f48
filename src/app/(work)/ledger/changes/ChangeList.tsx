"use client";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import type { ChangeRow } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";

export function ChangeList({ rows }: { rows: ChangeRow[] }) {
  const work = useWork();
  const router = useRouter();
  const currency = work.company?.currency ?? "EUR";
  const columns = useMemo(
    (): TableColumn<ChangeRow>[] => [
      {
        key: "at",
        header: "Posted, UTC",
        width: 140,
        value: (r) => r.at,
        cell: (r) => `${shownDate(r.at.slice(0, 10))} ${r.at.slice(11, 16)}`,
      },
      {
        key: "number",
        header: "Number",
        width: 124,
        value: (r) => r.number,
        cell: (r) => <b className="font-semibold">{r.number}</b>,
      },
      { key: "period", header: "Period", width: 90, value: (r) => r.period },
      { key: "type", header: "Type", width: 110, value: (r) => r.type },
      { key: "description", header: "Description", value: (r) => r.description },
      { key: "by", header: "Posted by", width: 130, value: (r) => r.by },
      {
        key: "total",
        header: "Total",
        width: 130,
        align: "right",
        sum: true,
        value: (r) => r.total,
        cell: (r) => shownAmount(r.total, currency),
      },
      {
        key: "result",
        header: "Effect on result",
        width: 134,
        align: "right",
        sum: true,
        value: (r) => r.result,
        cell: (r) => shownAmount(r.result, currency),
      },
    ],
    [currency],
  );
  return (
    <DataTable
      name="changes"
      rows={rows}
      columns={columns}
      rowKey={(r) => String(r.id)}
      currency={currency}
      onOpen={(r) => router.push(work.link(`/ledger/journals/${r.id}`))}
      empty={
        <Empty title="Nothing changed">No journal posted since then reaches these periods.</Empty>
      }
    />
  );
}
