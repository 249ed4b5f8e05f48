"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import type { GoodsReceiptRow } from "@/server/purchasing";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { dateColumn, numberColumn, statusColumn } from "@/ui/table/documentColumns";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { shownAmount } from "@/ui/writing";

/** What was received, newest first. */
export function GoodsReceiptList({ list }: { list: StartOfList<GoodsReceiptRow> }) {
  const { rows: receipts, pages } = useListPages("goods-receipts", list);
  const work = useWork();
  const router = useRouter();
  const columns = useMemo(
    (): TableColumn<GoodsReceiptRow>[] => [
      numberColumn(),
      statusColumn(),
      dateColumn(),
      { key: "title", header: "Description", value: (r) => r.title },
      { key: "order", header: "Order", width: 130, value: (r) => r.order },
      { key: "currency", header: "Currency", width: 78, value: (r) => r.currency },
      {
        key: "amount",
        header: "At order price",
        width: 134,
        align: "right",
        sum: true,
        value: (r) => r.amount,
        cell: (r) => shownAmount(r.amount, r.currency),
      },
    ],
    [],
  );
  return (
    <DataTable
      name="goods-receipts"
      rows={receipts}
      columns={columns}
      rowKey={(r) => String(r.id)}
      currency={work.company?.currency ?? "EUR"}
      currencyOf={(r) => r.currency}
      counts={(r) => r.status === "posted"}
      totalName="Total received"
      pages={pages}
      kept={list.kept.columns}
      keep={(v) => void keepPreference("table.goods-receipts", v)}
      onOpen={(r) => router.push(work.link(`/payables/goods-receipts/${r.id}`))}
      empty={
        <Empty title="Nothing was received">
          Orders in force are received on their own page.{" "}
          <Link className="link" href={work.link("/payables/orders", { status: "open" })}>
            Orders in force
          </Link>
        </Empty>
      }
    />
  );
}
