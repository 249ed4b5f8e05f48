"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import type { TransferRow } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { dateColumn, numberColumn, statusColumn } from "@/ui/table/documentColumns";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { shownAmount } from "@/ui/writing";

const COLUMNS: TableColumn<TransferRow>[] = [
  numberColumn(),
  statusColumn(110),
  dateColumn(),
  { key: "bank", header: "From", width: 110, value: (t) => t.bank },
  { key: "toBank", header: "To", width: 110, value: (t) => t.toBank },
  { key: "to", header: "Company", value: (t) => t.to },
  { key: "text", header: "Text", value: (t) => t.text },
  { key: "run", header: "Run", width: 116, value: (t) => t.run },
  { key: "currency", header: "Currency", width: 78, value: (t) => t.currency },
  {
    key: "amount",
    header: "Amount",
    width: 124,
    align: "right",
    sum: true,
    value: (t) => t.amount,
    cell: (t) => shownAmount(t.amount, t.currency),
  },
];

/** What left the one account, or will. */
const COUNTS: ReadonlySet<string> = new Set(["posted", "sent", "cleared"]);

/** Money moved between accounts of our own. */
export function TransferList({ list }: { list: StartOfList<TransferRow> }) {
  const { rows, pages } = useListPages("transfers", list);
  const work = useWork();
  const router = useRouter();
  return (
    <DataTable
      name="transfers"
      rows={rows}
      columns={COLUMNS}
      rowKey={(t) => String(t.id)}
      currency={work.company?.currency ?? "EUR"}
      currencyOf={(t) => t.currency}
      counts={(t) => COUNTS.has(t.status)}
      totalName="Total moved"
      pages={pages}
      kept={list.kept.columns}
      keep={(v) => void keepPreference("table.transfers", v)}
      onOpen={(t) => router.push(work.link(`/payables/payments/${t.id}`))}
      empty={
        <Empty title="No transfer here">
          Nothing was moved between accounts in these months.{" "}
          {work.may("post.banks") && (
            <Link className="link" href={work.link("/banks/transfers/new")}>
              Move money
            </Link>
          )}
        </Empty>
      }
    />
  );
}

export function TransferActions() {
  const work = useWork();
  return work.may("post.banks") ? (
    <Link className="button button-main" href={work.link("/banks/transfers/new")}>
      New transfer
    </Link>
  ) : null;
}
