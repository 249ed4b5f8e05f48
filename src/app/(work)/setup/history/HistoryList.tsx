"use client";
import { SidePanel } from "@/ui/panel/SidePanel";
import { useState } from "react";
import type { HistoryRow } from "@/server/access";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownDate } from "@/ui/writing";

const COLUMNS: readonly TableColumn<HistoryRow>[] = [
  {
    key: "at",
    header: "Time, UTC",
    width: 160,
    value: (r) => r.at,
    cell: (r) => `${shownDate(r.at.slice(0, 10))} ${r.at.slice(11, 19)}`,
  },
  { key: "by", header: "Person", width: 150, value: (r) => r.by },
  { key: "action", header: "Action", width: 130, value: (r) => r.action },
  { key: "kind", header: "Kind of record", width: 120, value: (r) => r.kind },
  { key: "label", header: "Name or number", value: (r) => r.label },
  { key: "company", header: "Company", width: 90, value: (r) => r.company },
];

export function HistoryList({ rows }: { rows: HistoryRow[] }) {
  const work = useWork();
  const [chosen, setChosen] = useState<HistoryRow | null>(null);
  return (
    <Page
      title="History"
      note="only ever added to"
      actions={
        rows.length === 500 && (
          <button
            type="button"
            className="button"
            onClick={() => work.go({ before: String(rows.at(-1)!.id) })}
          >
            Earlier
          </button>
        )
      }
      panel={
        chosen && (
          <SidePanel
            title={`${chosen.by} ${chosen.action} ${chosen.kind} ${chosen.label}`}
            width={400}
            onClose={() => setChosen(null)}
          >
            {(["before", "after"] as const).map((side) => (
              <div key={side}>
                <h3 className="label">{side === "before" ? "Before" : "After"}</h3>
                {chosen[side] ? (
                  <pre className="overflow-x-auto whitespace-pre-wrap rounded border border-line-2 bg-shade p-2 text-xs">
                    {JSON.stringify(chosen[side], null, 2)}
                  </pre>
                ) : (
                  <p className="text-ink-3">nothing</p>
                )}
              </div>
            ))}
          </SidePanel>
        )
      }
    >
      <DataTable
        name="history"
        rows={rows}
        columns={COLUMNS}
        rowKey={(r) => String(r.id)}
        currency="EUR"
        onOpen={setChosen}
        empty={<Empty title="Nothing has happened yet" />}
      />
    </Page>
  );
}
