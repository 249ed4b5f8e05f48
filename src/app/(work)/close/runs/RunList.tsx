"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import { runPages } from "@/core/runs";
import type { RunRow } from "@/server/runs";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { numberColumn, statusColumn } from "@/ui/table/documentColumns";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { shownAmount, shownDate } from "@/ui/writing";

export function RunList({ list }: { list: StartOfList<RunRow> }) {
  const { rows: runs, pages } = useListPages("runs", list);
  const work = useWork();
  const router = useRouter();
  const columns = useMemo(
    (): TableColumn<RunRow>[] => [
      numberColumn(),
      statusColumn(110),
      { key: "kind", header: "Kind", width: 120, value: (r) => r.kind },
      { key: "title", header: "Run", value: (r) => r.title },
      { key: "proposedBy", header: "Proposed by", width: 140, value: (r) => r.proposedBy },
      {
        key: "proposedAt",
        header: "Proposed",
        width: 110,
        value: (r) => r.proposedAt ?? "",
        cell: (r) => shownDate((r.proposedAt ?? "").slice(0, 10)),
      },
      { key: "journals", header: "Journals", width: 90, align: "right", value: (r) => r.journals },
      {
        key: "amount",
        header: "Amount",
        width: 140,
        align: "right",
        value: (r) => r.amount,
        cell: (r) => shownAmount(r.amount, r.currency),
      },
    ],
    [],
  );
  return (
    <DataTable
      name="runs"
      rows={runs}
      columns={columns}
      rowKey={(r) => String(r.id)}
      currency={work.company?.currency ?? "EUR"}
      currencyOf={(r) => r.currency}
      counts={(r) => r.status === "posted"}
      pages={pages}
      kept={list.kept.columns}
      keep={(v) => void keepPreference("table.runs", v)}
      onOpen={(r) =>
        router.push(work.link(`${runPages(r.kindId)}/${r.id}`, { company: r.company }))
      }
      empty={
        <Empty title="No runs yet">
          {work.may("period.ledger") && (
            <Link className="link" href={work.link("/close/year-end")}>
              Year end is the first run
            </Link>
          )}
        </Empty>
      }
    />
  );
}
