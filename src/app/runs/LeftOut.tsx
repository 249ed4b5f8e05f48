"use client";
import { useMemo } from "react";
import type { RunItemRow, RunView } from "@/server/runs";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownSentence } from "@/ui/writing";

/** What is not part of a run, and why: readable without opening anything. */
export function LeftOut({
  run,
  items,
  onOpen,
}: {
  run: RunView;
  items: readonly RunItemRow[];
  onOpen: (item: RunItemRow) => void;
}) {
  const columns = useMemo(
    (): TableColumn<RunItemRow>[] => [
      { key: "group", header: groupName(run.kind), width: 190, value: (i) => i.group },
      { key: "label", header: "Item", width: 170, value: (i) => i.label },
      {
        key: "reason",
        header: "Reason",
        value: (i) => i.leftOut,
        cell: (i) => shownSentence(i.leftOut),
      },
      {
        key: "amount",
        header: "Amount",
        width: 124,
        align: "right",
        sum: true,
        value: (i) => i.amount,
      },
    ],
    [run.kind],
  );
  return (
    <DataTable
      name="run-left-out"
      rows={items}
      columns={columns}
      rowKey={(i) => i.key}
      currency={run.currency}
      totalName="Left out"
      onOpen={onOpen}
      empty={null}
    />
  );
}

/** What the items of a kind of run are grouped by. */
export const groupName = (kind: string): string =>
  kind === "payment" || kind === "accrual" || kind === "clean-up" || kind === "recurring-invoice"
    ? "Supplier"
    : kind === "letters" || kind === "direct-debit" || kind === "deferred-revenue"
      ? "Customer"
      : kind === "agreement"
        ? "Agreement"
        : "Group";
