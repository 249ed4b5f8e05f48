"use client";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import { dateText, readDate, type CalendarDate } from "@/core/shared";
import type { LettersRunRow } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import { useRunForm } from "@/app/lib/useProposeRun";
import type { RecordField } from "@/ui/form";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownDate } from "@/ui/writing";

interface Named {
  code: string;
  name: string;
}

interface Props {
  runs: LettersRunRow[];
  groups: readonly Named[];
  collectors: readonly Named[];
  /** Whom the page was opened for. */
  asked: { customers: readonly string[]; collector: string };
  today: CalendarDate;
}

const NAMES: Readonly<Record<LettersRunRow["what"], string>> = {
  reminder: "Reminders",
  statement: "Statements of account",
  promise: "Promises",
  debit: "Direct debits",
};

/** Letters about accounts: whom they go to, and the runs that made them. */
export function LettersPage({ runs, groups, collectors, asked, today }: Props) {
  const work = useWork();
  const router = useRouter();
  const mayPost = work.may("post.receivables");
  const columns = useMemo(
    (): TableColumn<LettersRunRow>[] => [
      {
        key: "date",
        header: "Date",
        width: 104,
        value: (r) => r.date,
        cell: (r) => shownDate(r.date),
      },
      { key: "what", header: "Letters", width: 170, value: (r) => NAMES[r.what] },
      { key: "number", header: "Run", width: 130, value: (r) => r.number },
      {
        key: "status",
        header: "Status",
        width: 100,
        value: (r) => r.status,
        cell: (r) => <Status of={r.status} quiet />,
      },
      { key: "by", header: "Proposed by", value: (r) => r.by },
      { key: "letters", header: "Made", width: 70, align: "right", value: (r) => r.letters },
      { key: "sent", header: "Sent", width: 70, align: "right", value: (r) => r.sent },
      { key: "amount", header: "Amount", width: 130, align: "right", value: (r) => r.amount },
    ],
    [],
  );
  return (
    <Page strip={<PeriodStrip />} title="Letters to customers">
      <div className="flex min-h-0 flex-1 gap-2.5">
        {mayPost && <Asking {...{ groups, collectors, asked, today }} />}
        <div className="flex min-w-0 flex-1 flex-col">
          <DataTable
            name="letter-runs"
            rows={runs}
            columns={columns}
            rowKey={(r) => String(r.id)}
            currency={work.company?.currency ?? "EUR"}
            onOpen={(r) => router.push(work.link(`/receivables/letters/runs/${r.id}`))}
            empty={
              <Empty title="No letters yet">
                A run proposes them: what each customer gets, and what is left out and why. Nothing
                goes out before it is sent.
              </Empty>
            }
          />
        </div>
      </div>
    </Page>
  );
}

/** What letters are wanted, and to whom. */
function Asking({ groups, collectors, asked, today }: Omit<Props, "runs">) {
  const { propose, open } = useRunForm("letters");
  const named = (all: readonly Named[], everybody: string) => [
    { value: "", text: everybody },
    ...all.map((n) => ({ value: n.code, text: n.name })),
  ];
  const fields: RecordField[] = [
    {
      key: "what",
      label: "Letters",
      kind: "select",
      options: [
        { value: "reminder", text: "Reminders of what is overdue" },
        { value: "statement", text: "Statements of account" },
      ],
    },
    { key: "date", label: "Date of the letters", kind: "date", required: true },
    {
      key: "customers",
      label: "Customers",
      kind: "text",
      hint: "Numbers with commas between; empty for all.",
    },
    {
      key: "group",
      label: "Group of customers",
      kind: "select",
      options: named(groups, "All groups"),
    },
    {
      key: "collector",
      label: "Collector",
      kind: "select",
      options: named(collectors, "Everybody’s customers"),
    },
  ];
  return (
    <FieldForm
      name="letters"
      title="New letters"
      className="w-[300px] shrink-0 self-start"
      fields={fields}
      start={{
        what: "reminder",
        date: dateText(today),
        customers: asked.customers.join(", "),
        group: "",
        collector: asked.collector,
      }}
      button="Preview the letters"
      main
      job={(v) =>
        propose({
          what: v.what,
          date: readDate(String(v.date ?? ""), today) ?? v.date,
          group: v.group,
          collector: v.collector,
          customers: String(v.customers ?? "")
            .split(/[,;]/)
            .map((c) => c.trim())
            .filter(Boolean),
        })
      }
      then={open}
    />
  );
}
