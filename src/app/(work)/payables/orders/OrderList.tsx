"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import type { OrderRow } from "@/server/purchasing";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { shownAmount, shownDate } from "@/ui/writing";

/** Requests and orders, with what is still to come of those in force. */
export function OrderList({ list }: { list: StartOfList<OrderRow> }) {
  const { rows: orders, pages } = useListPages("orders", list);
  const work = useWork();
  const router = useRouter();
  const foreign = orders.some((o) => o.currency !== work.company?.currency);
  const columns = useMemo(
    (): TableColumn<OrderRow>[] => [
      {
        key: "number",
        header: "Number",
        width: 130,
        value: (o) => o.number ?? "",
        cell: (o) =>
          o.number ? (
            <b className="font-semibold">{o.number}</b>
          ) : (
            <span className="text-ink-3">when placed</span>
          ),
      },
      { key: "kind", header: "Kind", width: 80, value: (o) => o.kind },
      {
        key: "status",
        header: "Status",
        width: 104,
        value: (o) => o.status,
        cell: (o) => (
          <Status
            of={
              o.kind === "order" && o.status === "open"
                ? "in-force"
                : o.kind === "request" && o.status === "posted"
                  ? "approved"
                  : o.status
            }
            quiet
          />
        ),
      },
      {
        key: "date",
        header: "Date",
        width: 100,
        value: (o) => o.date ?? "",
        cell: (o) => (o.date ? shownDate(o.date) : ""),
      },
      {
        key: "party",
        header: "Supplier",
        width: 220,
        value: (o) => o.party,
      },
      { key: "description", header: "Description", value: (o) => o.description },
      {
        key: "wanted",
        header: "Delivery date",
        width: 113,
        value: (o) => o.wanted ?? "",
        cell: (o) =>
          o.wanted ? (
            <span className={o.wanted < work.today ? "text-coral" : ""}>{shownDate(o.wanted)}</span>
          ) : (
            ""
          ),
      },
      ...(foreign
        ? [{ key: "currency", header: "Currency", width: 78, value: (o: OrderRow) => o.currency }]
        : []),
      {
        key: "net",
        header: "Net",
        width: 124,
        align: "right",
        sum: true,
        value: (o) => o.net,
        cell: (o) => shownAmount(o.net, o.currency),
      },
      {
        key: "outstanding",
        header: "Open amount",
        width: 124,
        align: "right",
        sum: true,
        value: (o) => o.outstanding,
      },
    ],
    [foreign, work.today],
  );
  return (
    <DataTable
      name="orders"
      rows={orders}
      columns={columns}
      rowKey={(o) => String(o.id)}
      currency={work.company?.currency ?? "EUR"}
      currencyOf={(o) => o.currency}
      counts={(o) => o.status === "open" || o.status === "closed"}
      totalName="Total placed"
      pages={pages}
      kept={list.kept.columns}
      keep={(v) => void keepPreference("table.orders", v)}
      onOpen={(o) => router.push(work.link(`/payables/orders/${o.id}`))}
      empty={
        <Empty title="No order here">
          Nothing was ordered in these months.{" "}
          {work.may("prepare.payables") && (
            <Link className="link" href={work.link("/payables/orders/new")}>
              New order
            </Link>
          )}
        </Empty>
      }
    />
  );
}

export function OrderActions({ status, text }: { status: string; text: string }) {
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
          className="field w-44"
          aria-label="Search in orders"
          placeholder="Supplier, number, what"
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
          ["open", "In force"],
          ["closed", "Closed"],
        ].map(([value, word]) => (
          <option key={value} value={value}>
            {word}
          </option>
        ))}
      </select>
      <Link className="button" href={work.link("/payables/goods-receipts")}>
        Goods receipts
      </Link>
      <Link className="button" href={work.link("/payables/received")}>
        Not invoiced
      </Link>
      {work.may("prepare.payables") && (
        <Link className="button" href={work.link("/payables/orders/new", { kind: "request" })}>
          New request
        </Link>
      )}
      {work.may("prepare.payables") && (
        <Link className="button button-main" href={work.link("/payables/orders/new")}>
          New order
        </Link>
      )}
    </>
  );
}
