"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import { amountText, dateText } from "@/core/shared";
import type { RunRowView } from "@/server/runs";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";

export function RunList({ runs }: { runs: RunRowView[] }) {
  const work = useWork();
  const router = useRouter();
  const columns = useMemo(
    (): TableColumn<RunRowView>[] => [
      {
        key: "number",
        header: "Number",
        width: 130,
        value: (r) => r.number,
        cell: (r) => <b className="font-semibold">{r.number}</b>,
      },
      {
        key: "status",
        header: "Status",
        width: 110,
        value: (r) => r.status,
        cell: (r) => <Status of={r.status} quiet />,
      },
      { key: "kind", header: "Kind", width: 120, value: (r) => r.kindName },
      { key: "title", header: "Run", value: (r) => r.title },
      { key: "by", header: "Proposed by", width: 140, value: (r) => r.proposedBy },
      {
        key: "at",
        header: "On",
        width: 110,
        value: (r) => r.proposedAt,
        cell: (r) => dateText(r.proposedAt.slice(0, 10)),
      },
      { key: "journals", header: "Journals", width: 90, align: "right", value: (r) => r.journals },
      {
        key: "amount",
        header: "Amount",
        width: 140,
        align: "right",
        value: (r) => r.amount,
        cell: (r) => amountText(r.amount, r.currency),
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
      of={runs[0]?.of}
      onOpen={(r) => router.push(work.link(`/close/runs/${r.id}`, { company: r.company }))}
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
