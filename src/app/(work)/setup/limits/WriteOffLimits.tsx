"use client";
import { writeOffLimitSchema } from "@/core/openItems";
import { decimalText } from "@/core/shared";
import type { WriteOffLimit } from "@/server/openItems";
import { Amount } from "@/ui/Amount";
import { faultsOf } from "@/ui/form";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";

type Option = { value: string; text: string };

/** How much each person may settle at once without money for it. */
export function WriteOffLimits({
  rows,
  people,
  companies,
  mayChange,
}: {
  rows: WriteOffLimit[];
  people: Option[];
  companies: Option[];
  mayChange: boolean;
}) {
  return (
    <RecordPage<WriteOffLimit>
      title="Write-off limits"
      note="what a person may settle at once without money for it"
      name="write-off-limits"
      rows={rows}
      rowKey={(w) => String(w.id)}
      mayChange={mayChange}
      add={mayChange ? "New limit" : null}
      empty={
        <Empty title="Nobody may write off anything">
          A customer who pays too little leaves the rest open, until somebody has a limit here.
        </Empty>
      }
      columns={[
        { key: "person", header: "Person", value: (w) => w.person },
        { key: "company", header: "Company", width: 120, value: (w) => w.company },
        {
          key: "amount",
          header: "At once, up to",
          width: 150,
          align: "right",
          value: (w) => w.amount,
          cell: (w) => <Amount of={w.amount} in={w.currency} />,
        },
        { key: "currency", header: "Currency", width: 90, value: (w) => w.currency },
      ]}
      fields={[
        {
          key: "person",
          label: "Person",
          kind: "select",
          options: [{ value: "", text: "Choose" }, ...people],
          required: true,
          fixed: true,
        },
        { key: "company", label: "Company", kind: "select", options: companies, fixed: true },
        {
          key: "limit",
          label: "At once, up to",
          kind: "figure",
          required: true,
          hint: "In the company's currency. It counts whatever account the difference goes to.",
        },
      ]}
      toValues={(w) => ({
        person: w?.login ?? "",
        company: w?.company ?? companies[0]?.value ?? "",
        limit: w ? decimalText(w.amount, w.currency) : "",
      })}
      check={(v) => faultsOf(writeOffLimitSchema, v)}
      save={(v, w) =>
        saveRecordAction("writeOffLimit", { ...v, ...(w ? { id: w.id, version: w.version } : {}) })
      }
    />
  );
}
