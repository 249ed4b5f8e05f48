"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import type { ReceiptRow } from "@/server/banks";
import { FileLoad } from "@/ui/FileLoad";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { dateColumn, numberColumn, statusColumn } from "@/ui/table/documentColumns";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { sendTable } from "@/app/lib/sendFile";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { shownAmount } from "@/ui/writing";

const COLUMNS: TableColumn<ReceiptRow>[] = [
  numberColumn(),
  statusColumn(),
  dateColumn(),
  { key: "party", header: "Customer", width: 220, value: (r) => r.party },
  { key: "pays", header: "Settles", value: (r) => r.pays ?? "on account" },
  { key: "bank", header: "Account", width: 104, value: (r) => r.bank },
  { key: "currency", header: "Currency", width: 78, value: (r) => r.currency },
  {
    key: "discount",
    header: "Discount",
    width: 96,
    align: "right",
    sum: true,
    value: (r) => r.discount,
    cell: (r) => (r.discount === 0n ? "" : shownAmount(r.discount, r.currency)),
  },
  {
    key: "amount",
    header: "Amount",
    width: 124,
    align: "right",
    sum: true,
    value: (r) => r.amount,
    cell: (r) => shownAmount(r.amount, r.currency),
  },
];

export function ReceiptList({ list }: { list: StartOfList<ReceiptRow> }) {
  const { rows, pages } = useListPages("receipts", list);
  const work = useWork();
  const router = useRouter();
  return (
    <DataTable
      name="receipts"
      rows={rows}
      columns={COLUMNS}
      rowKey={(r) => String(r.id)}
      currency={work.company?.currency ?? "EUR"}
      currencyOf={(r) => r.currency}
      counts={(r) => ["posted", "sent", "cleared"].includes(r.status)}
      totalName="Total received"
      pages={pages}
      kept={list.kept.columns}
      keep={(v) => void keepPreference("table.receipts", v)}
      onOpen={(r) => router.push(work.link(`/receivables/receipts/${r.id}`))}
      empty={
        <Empty title="No receipt here">
          A receipt comes of a statement line that a customer has paid, once it is posted, or is
          recorded by hand.{" "}
          {work.may("read.banks") && (
            <Link className="link" href={work.link("/banks/lines")}>
              Statement lines
            </Link>
          )}
        </Empty>
      }
    />
  );
}

/** Recording receipts, one by one or from a table, for who may; `bank` is where rows say none. */
export function NewReceiptActions({ bank }: { bank: string }) {
  const work = useWork();
  return work.may("post.receivables") ? (
    <>
      <FileLoad
        label="Load"
        what="receipts"
        again={(before) => `${before}: the same customer, day and amount.`}
        load={sendTable("receipts", { company: work.place.company, bank })}
      />
      <Link className="button button-main" href={work.link("/receivables/receipts/new")}>
        New receipt
      </Link>
    </>
  ) : null;
}
