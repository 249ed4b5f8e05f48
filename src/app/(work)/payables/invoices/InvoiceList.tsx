"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import type { InvoiceRow } from "@/server/payables";
import { useWork } from "@/ui/frame/work";
import { FileLoad } from "@/ui/FileLoad";
import { Empty, Problems } from "@/ui/Page";
import { ForEachButton, useForEachDraft } from "@/app/lib/useForEach";
import { PaperDrop } from "@/app/papers/PaperDrop";
import { sendTable } from "@/app/lib/sendFile";
import { postStoredInvoiceAction } from "./actions";
import { useInvoicePapers } from "./useInvoicePapers";
import { dateColumn, numberColumn, statusColumn } from "@/ui/table/documentColumns";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { shownAmount, shownDate } from "@/ui/writing";

export function InvoiceList({ list }: { list: StartOfList<InvoiceRow> }) {
  const { rows: items, pages } = useListPages("invoices", list);
  const work = useWork();
  const router = useRouter();
  const take = useInvoicePapers();
  const [selected, setSelected] = useState<string[]>([]);
  const posting = useForEachDraft(postStoredInvoiceAction);
  const drafts = items
    .filter((i) => i.status === "draft" && selected.includes(String(i.id)))
    .map((i) => ({
      id: i.id,
      name: `${i.supplierName || i.supplier}, ${i.supplierNumber || "no number"}`,
    }));
  const functional = work.company?.currency ?? "EUR";
  const foreign = items.some((i) => i.currency !== functional);
  const columns = useMemo(
    (): TableColumn<InvoiceRow>[] => [
      numberColumn(),
      statusColumn(),
      dateColumn(),
      {
        key: "party",
        header: "Supplier",
        value: (i) => i.party,
      },
      {
        key: "supplierNumber",
        header: "Supplier's number",
        width: 141,
        value: (i) => i.supplierNumber,
      },
      { key: "kind", header: "Kind", width: 96, value: (i) => i.kind },
      {
        key: "due",
        header: "Due date",
        width: 100,
        value: (i) => i.due ?? "",
        cell: (i) =>
          i.due ? (
            <span className={i.due < work.today ? "text-coral" : ""}>{shownDate(i.due)}</span>
          ) : (
            ""
          ),
      },
      ...(foreign
        ? [{ key: "currency", header: "Currency", width: 78, value: (i: InvoiceRow) => i.currency }]
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
      { key: "period", header: "Period", width: 100, hidden: true, value: (i) => i.period },
      { key: "by", header: "Entered by", width: 140, hidden: true, value: (i) => i.by },
    ],
    [foreign, functional, work.today],
  );
  return (
    <PaperDrop
      what="Drop to begin an invoice with each of these papers"
      onPapers={(files) => void (work.may("prepare.payables") && take(files))}
    >
      <Problems messages={posting.problems} />
      <DataTable
        selectable
        onSelect={setSelected}
        extra={
          work.may("post.payables") && (
            <ForEachButton chosen={drafts} one="invoice" several="invoices" {...posting.button} />
          )
        }
        name="invoices"
        rows={items}
        columns={columns}
        rowKey={(i) => String(i.id)}
        currency={functional}
        currencyOf={(i) => i.currency}
        counts={(i) => i.status === "posted"}
        totalName="Total posted"
        pages={pages}
        kept={list.kept.columns}
        keep={(v) => void keepPreference("table.invoices", v)}
        onOpen={(i) => router.push(work.link(`/payables/invoices/${i.id}`))}
        empty={
          <Empty title="No invoice here">
            None was received in these months.{" "}
            {work.may("prepare.payables") && (
              <Link className="link" href={work.link("/payables/invoices/new")}>
                Enter an invoice
              </Link>
            )}
          </Empty>
        }
      />
    </PaperDrop>
  );
}

export function InvoiceActions({ status, text }: { status: string; text: string }) {
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
          aria-label="Search in invoices"
          placeholder="Supplier, number or amount"
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
          ["held", "On hold"],
          ["posted", "Posted"],
          ["reversed", "Cancelled"],
        ].map(([value, word]) => (
          <option key={value} value={value}>
            {word}
          </option>
        ))}
      </select>
      {work.may("prepare.payables") && <FromPaper />}
      {work.may("prepare.payables") && (
        <FileLoad
          label="Load"
          what="invoices"
          load={sendTable("invoices", { company: work.place.company })}
        />
      )}
      {work.may("prepare.payables") && (
        <Link className="button button-main" href={work.link("/payables/invoices/new")}>
          New invoice
        </Link>
      )}
    </>
  );
}

/** Begins an invoice with its paper: an e-invoice is read, any other lies beside the form. */
function FromPaper() {
  const take = useInvoicePapers();
  return (
    <label
      className="button cursor-pointer focus-within:outline-2 focus-within:outline-sea"
      title="PDF, picture, or e-invoice in UBL (XML). Papers can also be dropped on the list."
    >
      From a paper
      <input
        type="file"
        multiple
        accept=".pdf,.png,.jpg,.jpeg,.xml"
        className="sr-only"
        aria-label="From a paper: PDF, picture or e-invoice (UBL)"
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = "";
          void take(files);
        }}
      />
    </label>
  );
}
