"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import { percentOfInvoiced, type Leftover } from "@/core/purchasing";
import type { CleanedRow } from "@/server/purchasing";
import { useProposeRun } from "@/app/lib/useProposeRun";
import { useWork } from "@/ui/frame/work";
import { Empty, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";

/** Leftovers, to be cleaned up by the rules or by hand; both are runs with a preview. */
export function ReceivedTable({
  rows,
  cleaned,
  on,
  today,
  current,
  currency,
}: {
  rows: Leftover[];
  cleaned: CleanedRow[] | null;
  on: string;
  today: string;
  current: string | null;
  currency: string;
}) {
  const work = useWork();
  const router = useRouter();
  const [chosen, setChosen] = useState<string[]>([]);
  const [reason, setReason] = useState("");
  const { busy, messages, propose } = useProposeRun("clean-up");
  // What stood on an earlier day may be billed since: only what is left today is chosen.
  const cleanable = on === today && work.may("post.payables");
  const columns = useMemo(
    (): TableColumn<Leftover>[] => [
      { key: "supplier", header: "Supplier", value: (l) => `${l.supplier} ${l.supplierName}` },
      {
        key: "receipt",
        header: "Goods receipt",
        width: 124,
        value: (l) => l.receipt,
        cell: (l) => <b className="font-semibold">{l.receipt}</b>,
      },
      { key: "description", header: "Description", width: 118, value: (l) => l.description },
      { key: "order", header: "Order", width: 112, value: (l) => l.order },
      {
        key: "open",
        header: "Order status",
        width: 98,
        value: (l) => (l.orderOpen ? "open" : "closed"),
      },
      {
        key: "date",
        header: "Received",
        width: 94,
        value: (l) => l.date,
        cell: (l) => shownDate(l.date),
      },
      {
        key: "age",
        header: "Age, days",
        width: 82,
        align: "right",
        value: (l) => l.age,
        cell: (l) => <span className={l.age > 90 ? "text-coral" : ""}>{l.age}</span>,
      },
      {
        key: "received",
        header: "Received value",
        width: 106,
        align: "right",
        sum: true,
        value: (l) => l.received,
      },
      {
        key: "invoiced",
        header: "Invoiced",
        width: 84,
        align: "right",
        sum: true,
        value: (l) => l.invoiced,
      },
      {
        key: "percent",
        header: "%",
        width: 56,
        align: "right",
        value: (l) => Number(percentOfInvoiced(l)),
        cell: (l) => percentOfInvoiced(l).toFixed(1),
      },
      {
        key: "leftover",
        header: "Open amount",
        width: 99,
        align: "right",
        sum: true,
        value: (l) => l.leftover,
        cell: (l) => <b className="font-semibold">{shownAmount(l.leftover, currency)}</b>,
      },
    ],
    [currency],
  );
  const cleanedColumns = useMemo(
    (): TableColumn<CleanedRow>[] => [
      {
        key: "date",
        header: "Date",
        width: 104,
        value: (c) => c.date,
        cell: (c) => shownDate(c.date),
      },
      { key: "supplier", header: "Supplier", value: (c) => c.supplierName },
      { key: "receipt", header: "Goods receipt", width: 130, value: (c) => c.receipt },
      { key: "order", header: "Order", width: 130, value: (c) => c.order },
      { key: "reason", header: "Rule or reason", width: 220, value: (c) => c.reason },
      { key: "by", header: "Cleaned up by", width: 130, value: (c) => c.by },
      { key: "run", header: "Run", width: 116, value: (c) => c.run.number },
      { key: "journal", header: "Journal", width: 124, value: (c) => c.journal.number },
      {
        key: "undone",
        header: "",
        width: 96,
        value: (c) => (c.undone ? "reversed" : ""),
        cell: (c) => (c.undone ? <Status of="reversed" quiet /> : ""),
      },
      {
        key: "amount",
        header: "Written off",
        width: 124,
        align: "right",
        sum: true,
        value: (c) => c.amount,
      },
    ],
    [],
  );
  if (cleaned)
    return (
      <DataTable
        name="cleaned"
        rows={cleaned}
        of={cleaned[0]?.of}
        columns={cleanedColumns}
        rowKey={(c) => `${c.journal.id} ${c.receiptId} ${c.receipt} ${String(c.amount)}`}
        currency={currency}
        onOpen={(c) => router.push(work.link(`/payables/received/runs/${c.run.id}`))}
        empty={
          <Empty title="Nothing was cleaned up yet">
            What is written off by a rule or by hand is listed here.
          </Empty>
        }
      />
    );
  return (
    <>
      <Problems messages={messages} />
      {on !== today && current !== null && work.may("post.payables") && (
        <p className="panel px-3 py-2 text-ink-2">
          So it stood on {shownDate(on)}. What is left today is cleaned up{" "}
          <Link
            className="link font-semibold"
            href={work.link("/payables/received", { period: current })}
          >
            where it stands today
          </Link>
          .
        </p>
      )}
      {cleanable && rows.length > 0 && (
        <form
          className="panel flex items-center gap-3 px-3 py-2"
          onSubmit={(e) => {
            e.preventDefault();
            void propose({ date: today, lines: chosen.map(Number), reason });
          }}
        >
          <button
            type="button"
            className="button"
            disabled={busy}
            onClick={() => void propose({ date: today })}
          >
            Preview what the rules would do
          </button>
          <span className="text-ink-3">or choose lines and say why:</span>
          <input
            aria-label="Reason"
            className="field flex-1"
            placeholder="Supplier has confirmed that nothing more comes"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
          <button
            type="submit"
            className="button button-main"
            disabled={busy || chosen.length === 0}
          >
            Clean up {chosen.length || ""} by hand
          </button>
        </form>
      )}
      <DataTable
        name="received"
        rows={rows}
        columns={columns}
        rowKey={(l) => String(l.receiptLine)}
        currency={currency}
        selectable={cleanable}
        onSelect={setChosen}
        onOpen={(l) => router.push(work.link(`/payables/goods-receipts/${l.receiptId}`))}
        empty={
          <Empty title="Everything that was received is invoiced">
            Goods receipts accrue here until their invoice comes.
          </Empty>
        }
      />
    </>
  );
}
