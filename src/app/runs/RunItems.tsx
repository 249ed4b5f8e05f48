"use client";
import { useMemo } from "react";
import type { ItemState } from "@/core/runs";
import type { RunItemRow, RunView } from "@/server/runs";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { keepPreference } from "@/app/lib/preferences";
import { useWork } from "@/ui/frame/work";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownSentence } from "@/ui/writing";

const SHOWN: { state: ItemState | "all"; name: string }[] = [
  { state: "all", name: "All items" },
  { state: "in", name: "In the run" },
  { state: "waiting", name: "Waiting for an amount" },
  { state: "dropped", name: "Left out by hand" },
  { state: "out", name: "Left out" },
];

/** The items of a run, page by page. */
export function RunItems({
  run,
  list,
  onOpen,
}: {
  run: RunView;
  list: StartOfList<RunItemRow>;
  onOpen: (row: RunItemRow) => void;
}) {
  const { rows, pages } = useListPages("run-items", list);
  const work = useWork();
  const columns = useMemo(
    (): TableColumn<RunItemRow>[] => [
      { key: "group", header: "Group", width: 160, value: (i) => i.group },
      { key: "label", header: "Item", width: 190, value: (i) => i.label },
      {
        key: "amount",
        header: "Amount",
        width: 116,
        align: "right",
        sum: true,
        value: (i) => i.amount,
        cell: (i) => (
          <span className={i.state === "in" ? "" : "text-ink-3 line-through"}>
            {shownAmount(i.amount, run.currency)}
          </span>
        ),
      },
      {
        key: "why",
        header: "Reason",
        width: 190,
        value: (i) => i.why,
        cell: (i) => shownSentence(i.why),
      },
      {
        key: "inRun",
        header: "In the run",
        value: (i) => i.inRun,
        cell: (i) => (
          <span className={i.state === "in" ? "" : "text-ink-2"} title={i.leftOut || undefined}>
            {shownSentence(i.inRun)}
          </span>
        ),
      },
    ],
    [run.currency],
  );
  const there = SHOWN.filter(({ state }) => state === "all" || run.items[state] > 0);
  return (
    <DataTable
      name="run-items"
      rows={rows}
      columns={columns}
      rowKey={(i) => String(i.id)}
      currency={run.currency}
      counts={(i) => i.state === "in"}
      totalName="In the run"
      pages={pages}
      kept={list.kept.columns}
      keep={(v) => void keepPreference("table.run-items", v)}
      onOpen={onOpen}
      extra={
        there.length > 2 && (
          <select
            aria-label="Items shown"
            className="field w-auto"
            value={list.asked.status}
            onChange={(e) => work.go({ status: e.target.value === "all" ? null : e.target.value })}
          >
            {there.map(({ state, name }) => (
              <option key={state} value={state}>
                {name}
                {state === "all" ? "" : ` (${run.items[state].toLocaleString("en")})`}
              </option>
            ))}
          </select>
        )
      }
      empty={<p className="p-8 text-center text-ink-2">Nothing to do.</p>}
    />
  );
}
