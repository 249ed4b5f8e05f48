"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import type { SaleRow } from "@/server/receivables";
import { FileLoad } from "@/ui/FileLoad";
import { useWork } from "@/ui/frame/work";
import { Empty, Problems } from "@/ui/Page";
import { ForEachButton, useForEach, useForEachDraft } from "@/app/lib/useForEach";
import { dateColumn, numberColumn, statusColumn } from "@/ui/table/documentColumns";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { sendTable } from "@/app/lib/sendFile";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { shownAmount, shownDate } from "@/ui/writing";
import { postStoredSaleAction, sendSaleAction } from "./actions";

/** The columns of sales: the currency only where there are several. */
const columnsFor = (
  today: string,
  foreign: boolean,
  functional: string,
): TableColumn<SaleRow>[] => [
  numberColumn(),
  statusColumn(),
  dateColumn(),
  { key: "party", header: "Customer", value: (i) => i.party },
  {
    key: "reference",
    header: "Reference",
    width: 130,
    hidden: true,
    value: (i) => i.reference,
  },
  { key: "kind", header: "Kind", width: 96, value: (i) => i.kind },
  {
    key: "due",
    header: "Due date",
    width: 100,
    value: (i) => i.due ?? "",
    cell: (i) =>
      i.due ? <span className={i.due < today ? "text-coral" : ""}>{shownDate(i.due)}</span> : "",
  },
  {
    key: "sent",
    header: "Sent",
    width: 96,
    value: (i) => i.sent ?? "",
    cell: (i) => (i.sent ? shownDate(i.sent) : ""),
  },
  ...(foreign
    ? [{ key: "currency", header: "Currency", width: 78, value: (i: SaleRow) => i.currency }]
    : []),
  {
    key: "amount",
    header: "Amount",
    width: 124,
    align: "right",
    sum: true,
    value: (i) => i.amount,
    cell: (i) => shownAmount(i.amount, i.currency),
  },
  {
    key: "left",
    header: "Open amount",
    width: 124,
    align: "right",
    sum: true,
    value: (i) => i.left ?? 0n,
    cell: (i) => (i.left === null ? "" : shownAmount(i.left, i.currency)),
  },
  {
    key: "functional",
    header: "Functional amount",
    width: 141,
    align: "right",
    functional: true,
    hidden: true,
    value: (i) => i.functional,
    cell: (i) => (i.functional === null ? "" : shownAmount(i.functional, functional)),
  },
  { key: "by", header: "Entered by", width: 140, hidden: true, value: (i) => i.by },
];

export function SaleList({ list }: { list: StartOfList<SaleRow> }) {
  const { rows: items, pages } = useListPages("sales", list);
  const work = useWork();
  const router = useRouter();
  const [selected, setSelected] = useState<string[]>([]);
  const posting = useForEachDraft(postStoredSaleAction);
  const sending = useForEach({
    verb: "Send",
    going: "Sending",
    done: "sent",
    act: sendSaleAction,
  });
  const drafts = items
    .filter((i) => i.status === "draft" && selected.includes(String(i.id)))
    .map((i) => ({ id: i.id, name: i.customerName || i.customer || "no customer" }));
  const posted = items
    .filter((i) => i.status === "posted" && selected.includes(String(i.id)))
    .map((i) => ({ id: i.id, name: i.number ?? "" }));
  const functional = work.company?.currency ?? "EUR";
  const foreign = items.some((i) => i.currency !== functional);
  const columns = useMemo(
    () => columnsFor(work.today, foreign, functional),
    [foreign, functional, work.today],
  );
  return (
    <>
      <Problems messages={[...posting.problems, ...sending.problems]} />
      <DataTable
        selectable
        onSelect={setSelected}
        extra={
          <>
            {work.may("post.receivables") && (
              <ForEachButton chosen={drafts} one="invoice" several="invoices" {...posting.button} />
            )}
            {work.may("prepare.receivables") && (
              <ForEachButton chosen={posted} one="invoice" several="invoices" {...sending.button} />
            )}
          </>
        }
        name="sales"
        rows={items}
        columns={columns}
        rowKey={(i) => String(i.id)}
        currency={functional}
        currencyOf={(i) => i.currency}
        counts={(i) => i.status === "posted"}
        totalName="Total posted"
        pages={pages}
        kept={list.kept.columns}
        keep={(v) => void keepPreference("table.sales", v)}
        onOpen={(i) => router.push(work.link(`/receivables/invoices/${i.id}`))}
        empty={
          <Empty title="No invoice here">
            None was written in these months.{" "}
            {work.may("prepare.receivables") && (
              <Link className="link" href={work.link("/receivables/invoices/new")}>
                Write an invoice
              </Link>
            )}
          </Empty>
        }
      />
    </>
  );
}

export function SaleActions({ status, text }: { status: string; text: string }) {
  const work = useWork();
  const [wanted, setWanted] = useState(text);
  return (
    <>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          work.go({ text: wanted || null });
        }}
      >
        <input
          className="field w-48"
          aria-label="Search in sales invoices"
          placeholder="Customer, number or amount"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
      </form>
      <select
        aria-label="Status"
        className="field w-auto"
        value={status}
        onChange={(e) => work.go({ status: e.target.value === "all" ? null : e.target.value })}
      >
        {[
          ["all", "All"],
          ["draft", "Drafts"],
          ["waiting", "Waiting"],
          ["posted", "Posted"],
          ["reversed", "Cancelled"],
        ].map(([value, word]) => (
          <option key={value} value={value}>
            {word}
          </option>
        ))}
      </select>
      {work.may("prepare.receivables") && (
        <FileLoad
          label="Load"
          what="invoices"
          load={sendTable("sales", { company: work.place.company })}
        />
      )}
      {work.may("prepare.receivables") && (
        <Link className="button button-main" href={work.link("/receivables/invoices/new")}>
          New invoice
        </Link>
      )}
    </>
  );
}
