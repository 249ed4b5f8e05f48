"use client";
import { useEffect, useState } from "react";
import { MOST, type ListPage } from "@/core/lists";
import type { RunGroupRow, RunView } from "@/server/runs";
import { readList } from "@/app/lib/listActions";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";

const COLUMNS: TableColumn<RunGroupRow>[] = [
  { key: "group", header: "Group", value: (g) => g.group },
  { key: "items", header: "Items in the run", width: 140, align: "right", value: (g) => g.items },
  {
    key: "amount",
    header: "Amount",
    width: 170,
    align: "right",
    sum: true,
    value: (g) => g.amount,
  },
  { key: "out", header: "Items left out", width: 140, align: "right", value: (g) => g.out },
  {
    key: "amountOut",
    header: "Amount left out",
    width: 170,
    align: "right",
    sum: true,
    value: (g) => g.amountOut,
  },
];

/** What the items of each group come to, in the order in which they come. */
export function RunGroups({ run }: { run: RunView }) {
  const [read, setRead] = useState<{ of: RunView; rows: RunGroupRow[] } | "failed" | null>(null);
  useEffect(() => {
    let current = true;
    void readList("run-groups", { run: String(run.id), limit: MOST })
      .then((page) => {
        if (!page.ok) throw new Error(page.message);
        const { rows } = page.value as unknown as ListPage<RunGroupRow>;
        if (current) setRead({ of: run, rows });
      })
      .catch(() => current && setRead("failed"));
    return () => {
      current = false;
    };
  }, [run]);
  if (read === "failed")
    return (
      <p role="alert" className="p-8 text-center text-coral">
        The groups could not be read. Open the page again.
      </p>
    );
  return (
    <DataTable
      name="run-groups"
      rows={read?.rows ?? []}
      of={read && read.rows.length < run.groups ? run.groups : undefined}
      columns={COLUMNS}
      rowKey={(g) => g.group}
      currency={run.currency}
      empty={<p className="p-8 text-center text-ink-2">{read ? "Nothing to do." : "Reading"}</p>}
    />
  );
}
