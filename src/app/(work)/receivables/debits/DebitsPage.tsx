"use client";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import { dateText, readDate, type CalendarDate } from "@/core/shared";
import type { DebitRunRow, ReceivingAccount } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import { useRunForm } from "@/app/lib/useProposeRun";
import type { RecordField } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownDate } from "@/ui/writing";

interface Props {
  runs: DebitRunRow[];
  accounts: ReceivingAccount[];
  /** The first day that everybody can be told of in time. */
  date: CalendarDate;
}

/** Direct debits: who is debited and when, and the runs that did it. */
export function DebitsPage({ runs, accounts, date }: Props) {
  const work = useWork();
  const router = useRouter();
  const columns = useMemo(
    (): TableColumn<DebitRunRow>[] => [
      {
        key: "date",
        header: "Debited on",
        width: 110,
        value: (r) => r.date,
        cell: (r) => shownDate(r.date),
      },
      { key: "number", header: "Run", width: 130, value: (r) => r.number },
      {
        key: "status",
        header: "Status",
        width: 100,
        value: (r) => r.status,
        cell: (r) => <Status of={r.status} quiet />,
      },
      { key: "by", header: "Proposed by", value: (r) => r.by },
      { key: "debits", header: "Debits", width: 70, align: "right", value: (r) => r.debits },
      { key: "sent", header: "Sent", width: 64, align: "right", value: (r) => r.sent },
      { key: "cleared", header: "Cleared", width: 76, align: "right", value: (r) => r.cleared },
      {
        key: "back",
        header: "Came back",
        width: 92,
        align: "right",
        value: (r) => r.back,
        cell: (r) => <span className={r.back > 0 ? "text-coral" : ""}>{r.back}</span>,
      },
      { key: "amount", header: "Amount", width: 130, align: "right", value: (r) => r.amount },
    ],
    [],
  );
  return (
    <Page title="Direct debits">
      <div className="flex min-h-0 flex-1 gap-2.5">
        {work.may("post.receivables") && <Asking accounts={accounts} date={date} />}
        <div className="flex min-w-0 flex-1 flex-col">
          <DataTable
            name="debit-runs"
            rows={runs}
            columns={columns}
            rowKey={(r) => String(r.id)}
            currency={work.company?.currency ?? "EUR"}
            onOpen={(r) => router.push(work.link(`/receivables/debits/runs/${r.id}`))}
            empty={
              <Empty title="No direct debits yet">
                A run proposes what customers with a mandate owe, and what is left out and why.
                Nothing goes to the bank before its file is made.
              </Empty>
            }
          />
        </div>
      </div>
    </Page>
  );
}

/** Whom to debit, when, and up to which due date. */
function Asking({ accounts, date }: Omit<Props, "runs">) {
  const { propose, open } = useRunForm("direct-debit");
  const { today } = useWork();
  const fields: RecordField[] = [
    {
      key: "bank",
      label: "To bank account",
      kind: "select",
      options: accounts.map((a) => ({ value: a.code, text: `${a.code} ${a.name}` })),
      hint: "In euro, with an IBAN.",
    },
    {
      key: "date",
      label: "Debited on",
      kind: "date",
      required: true,
      hint: "Customers are told before, as their mandate says.",
    },
    { key: "upTo", label: "Items due up to", kind: "date", required: true },
    {
      key: "customers",
      label: "Customers",
      kind: "text",
      hint: "Numbers with commas between; empty for all with a mandate.",
    },
  ];
  const day = (text: unknown) => readDate(String(text ?? ""), today) ?? String(text ?? "");
  return (
    <FieldForm
      name="direct-debits"
      title="New direct debits"
      className="w-[300px] shrink-0 self-start"
      fields={fields}
      start={{
        bank: accounts[0]?.code ?? "",
        date: dateText(date),
        upTo: dateText(date),
        customers: "",
      }}
      button="Preview the direct debits"
      main
      job={(v) =>
        propose({
          bank: v.bank,
          date: day(v.date),
          upTo: day(v.upTo),
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
