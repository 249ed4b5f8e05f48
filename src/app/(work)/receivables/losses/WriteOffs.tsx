"use client";
import Link from "next/link";
import { useMemo, useState } from "react";
import { documentPage } from "@/core/documents";
import type { WriteOffRow } from "@/server/receivables";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownDate } from "@/ui/writing";
import { undoWriteOffAction } from "./actions";

/** What was written off, and the way back. */
export function WriteOffs({ rows, currency }: { rows: readonly WriteOffRow[]; currency: string }) {
  const work = useWork();
  const [undoing, setUndoing] = useState<WriteOffRow | null>(null);
  const mayUndo = work.may("reverse.receivables");
  const columns = useMemo(
    (): TableColumn<WriteOffRow>[] => [
      {
        key: "date",
        header: "Date",
        width: 100,
        value: (r) => r.date,
        cell: (r) => shownDate(r.date),
      },
      { key: "customer", header: "Customer", width: 190, value: (r) => `${r.customer} ${r.name}` },
      { key: "reason", header: "Reason", value: (r) => r.reason },
      {
        key: "journal",
        header: "Journal",
        width: 130,
        value: (r) => r.journal.number,
        cell: (r) => (
          <Link className="link" href={work.link(documentPage("journal", r.journal.id))}>
            {r.journal.number}
          </Link>
        ),
      },
      { key: "tax", header: "Tax", width: 86, value: (r) => (r.taxCorrected ? "corrected" : "") },
      { key: "by", header: "By", width: 120, value: (r) => r.by },
      {
        key: "amount",
        header: "Amount",
        width: 110,
        align: "right",
        sum: true,
        value: (r) => r.amount,
      },
      {
        key: "undone",
        header: "",
        width: 90,
        value: (r) => (r.undone ? "reversed" : ""),
        cell: (r) =>
          r.undone ? (
            <Status of="reversed" quiet />
          ) : (
            mayUndo && (
              <button type="button" className="button button-plain" onClick={() => setUndoing(r)}>
                Undo
              </button>
            )
          ),
      },
    ],
    [work, mayUndo],
  );
  return (
    <>
      {undoing && (
        <ReasonForm
          placeholder={`Why is ${undoing.journal.number} undone?`}
          place="writeOffs"
          button="Open the items again"
          job={(reason) => undoWriteOffAction(undoing.journal.id, reason)}
          done="The items are open again."
          close={() => setUndoing(null)}
        />
      )}
      <DataTable
        name="write-offs"
        rows={rows}
        columns={columns}
        rowKey={(r) => String(r.journal.id)}
        currency={currency}
        counts={(r) => !r.undone}
        empty={
          <Empty title="Nothing is written off">
            What a customer will not pay is written off at the desk, on the items themselves.
          </Empty>
        }
      />
    </>
  );
}
