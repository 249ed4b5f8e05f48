"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import type { DepositRow } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";

const COLUMNS: TableColumn<DepositRow>[] = [
  {
    key: "number",
    header: "Number",
    width: 140,
    value: (d) => d.number,
    cell: (d) => <b className="font-semibold">{d.number}</b>,
  },
  { key: "date", header: "Date", width: 110, value: (d) => d.date, cell: (d) => shownDate(d.date) },
  { key: "bank", header: "Bank account", width: 120, value: (d) => d.bank },
  { key: "parts", header: "Parts", width: 70, align: "right", value: (d) => d.parts },
  { key: "by", header: "Deposited by", value: (d) => d.by },
  {
    key: "status",
    header: "Status",
    width: 110,
    value: (d) => stateOf(d),
    cell: (d) => <Status of={stateOf(d)} quiet />,
  },
  {
    key: "underWay",
    header: "On no statement",
    width: 130,
    align: "right",
    value: (d) => d.underWay,
    cell: (d) => (d.underWay === 0n ? "–" : shownAmount(d.underWay, d.currency)),
  },
  { key: "currency", header: "Currency", width: 78, value: (d) => d.currency },
  {
    key: "amount",
    header: "Amount",
    width: 130,
    align: "right",
    value: (d) => d.amount,
    cell: (d) => shownAmount(d.amount, d.currency),
  },
];

const stateOf = (d: DepositRow): string =>
  d.status === "posted" && d.cleared ? "cleared" : d.status;

/** Slips of cheques and cash that went to the bank. */
export function DepositList({ rows }: { rows: DepositRow[] }) {
  const work = useWork();
  const router = useRouter();
  const mayMake = work.may("post.banks") || work.may("post.receivables");
  return (
    <Page
      title="Deposits"
      note={`cheques and cash of customers of ${work.company?.name ?? ""}`}
      actions={
        mayMake && (
          <Link className="button button-main" href={work.link("/banks/deposits/new")}>
            New deposit slip
          </Link>
        )
      }
    >
      <DataTable
        name="deposits"
        rows={rows}
        columns={COLUMNS}
        rowKey={(d) => String(d.id)}
        currency={work.company?.currency ?? "EUR"}
        currencyOf={(d) => d.currency}
        onOpen={(d) => router.push(work.link(`/banks/deposits/${d.id}`))}
        empty={
          <Empty title="No deposit yet">
            Cheques and cash of customers go to the bank on a slip; the bank’s line clears it.
          </Empty>
        }
      />
    </Page>
  );
}
