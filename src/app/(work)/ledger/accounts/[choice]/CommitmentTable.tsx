"use client";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import type { Commitment } from "@/server/purchasing";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownDate } from "@/ui/writing";

/** What orders in force commit of the accounts. */
export function CommitmentTable({ rows }: { rows: Commitment[] }) {
  const work = useWork();
  const router = useRouter();
  const columns = useMemo(
    (): TableColumn<Commitment>[] => [
      {
        key: "order",
        header: "Order",
        width: 140,
        value: (c) => `${c.order}/${c.line}`,
        cell: (c) => (
          <b className="font-semibold">
            {c.order}/{c.line}
          </b>
        ),
      },
      { key: "supplier", header: "Supplier", width: 200, value: (c) => c.supplierName },
      { key: "description", header: "Description", value: (c) => c.description },
      { key: "account", header: "Account", width: 84, value: (c) => c.account },
      {
        key: "coding",
        header: "Coding",
        width: 140,
        value: (c) => Object.values(c.dimensions).filter(Boolean).join(" · "),
      },
      {
        key: "wanted",
        header: "Delivery date",
        width: 113,
        value: (c) => c.wanted ?? "",
        cell: (c) =>
          c.wanted ? (
            <span className={c.wanted < work.today ? "text-coral" : ""}>{shownDate(c.wanted)}</span>
          ) : (
            ""
          ),
      },
      {
        key: "functional",
        header: "Open commitment",
        width: 134,
        align: "right",
        sum: true,
        value: (c) => c.functional,
      },
    ],
    [work.today],
  );
  return (
    <DataTable
      name="commitments"
      rows={rows}
      columns={columns}
      rowKey={(c) => `${c.orderId} ${c.line}`}
      currency={work.company?.currency ?? "EUR"}
      onOpen={(c) => router.push(work.link(`/payables/orders/${c.orderId}`))}
      empty={
        <Empty title="Nothing is committed on these accounts">
          Orders in force stand here with what is not yet received, until they become actual.
        </Empty>
      }
    />
  );
}
