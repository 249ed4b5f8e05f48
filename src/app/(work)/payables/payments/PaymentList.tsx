"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import { type PaymentRow } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { dateColumn, numberColumn, statusColumn } from "@/ui/table/documentColumns";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { shownAmount } from "@/ui/writing";

/** What left the bank, or will: not what was cancelled, rejected or reversed. */
const COUNTS: ReadonlySet<string> = new Set(["posted", "sent", "cleared"]);

/** The register of payments. */
export function PaymentList({ list }: { list: StartOfList<PaymentRow> }) {
  const { rows: payments, pages } = useListPages("payments", list);
  const work = useWork();
  const router = useRouter();
  const foreign = payments.some((p) => p.currency !== work.company?.currency);
  const columns = useMemo(
    (): TableColumn<PaymentRow>[] => [
      numberColumn(),
      statusColumn(110),
      dateColumn(),
      { key: "party", header: "Payee", value: (p) => p.party },
      { key: "method", header: "Payment method", width: 120, value: (p) => p.method },
      { key: "bank", header: "Bank account", width: 110, value: (p) => p.bank },
      {
        key: "cheque",
        header: "Cheque",
        width: 84,
        align: "right",
        value: (p) => p.cheque,
      },
      { key: "run", header: "Run", width: 116, value: (p) => p.run },
      ...(foreign
        ? [{ key: "currency", header: "Currency", width: 78, value: (p: PaymentRow) => p.currency }]
        : []),
      {
        key: "discount",
        header: "Discount",
        width: 110,
        align: "right",
        sum: true,
        value: (p) => p.discount,
      },
      {
        key: "amount",
        header: "Amount",
        width: 124,
        align: "right",
        sum: true,
        value: (p) => p.amount,
        cell: (p) => shownAmount(p.amount, p.currency),
      },
    ],
    [foreign],
  );
  return (
    <DataTable
      name="payments"
      rows={payments}
      columns={columns}
      rowKey={(p) => String(p.id)}
      currency={work.company?.currency ?? "EUR"}
      currencyOf={(p) => p.currency}
      counts={(p) => COUNTS.has(p.status)}
      totalName="Total paid"
      pages={pages}
      kept={list.kept.columns}
      keep={(v) => void keepPreference("table.payments", v)}
      onOpen={(p) => router.push(work.link(`/payables/payments/${p.id}`))}
      empty={
        <Empty title="No payment here">
          None was made in these months.{" "}
          {work.may("post.payables") && (
            <Link className="link" href={work.link("/payables/payments/run")}>
              Pay what is due
            </Link>
          )}
        </Empty>
      }
    />
  );
}

export function PaymentActions({ status, text }: { status: string; text: string }) {
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
          aria-label="Search in payments"
          placeholder="Payee, number or cheque"
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
          ["posted", "Posted"],
          ["sent", "Sent"],
          ["reversed", "Reversed"],
          ["cancelled", "Cancelled"],
          ["rejected", "Rejected"],
          ["recalled", "Recalled"],
        ].map(([value, word]) => (
          <option key={value} value={value}>
            {word}
          </option>
        ))}
      </select>
      <Link className="button" href={work.link("/payables/outbox")}>
        Mailbox
      </Link>
      {work.may("post.payables") && (
        <Link className="button" href={work.link("/payables/payments/new")}>
          Single payment
        </Link>
      )}
      {work.may("post.payables") && (
        <Link className="button button-main" href={work.link("/payables/payments/run")}>
          Payment run
        </Link>
      )}
    </>
  );
}
