"use client";
import type { MonthlyPayment } from "@/server/cash";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";

/** Accounts whose balance is paid on a day of each month: what cash expects of them. */
export function MonthlyPayments({
  rows,
  mayChange,
}: {
  rows: MonthlyPayment[];
  mayChange: boolean;
}) {
  return (
    <RecordPage<MonthlyPayment>
      title="Monthly payments"
      note="net pay, social security: what cash expects of an account each month"
      name="monthly-payments"
      rows={rows}
      rowKey={(m) => m.account}
      mayChange={mayChange}
      add={mayChange ? "New monthly payment" : null}
      empty={
        <Empty title="No account is paid monthly">
          The cash forecast knows open items, orders and taxes. Add the accounts of net pay and
          social security, and it knows pay too.
        </Empty>
      }
      columns={[
        { key: "account", header: "Account", width: 120, value: (m) => m.account },
        { key: "name", header: "Name", value: (m) => m.name },
        {
          key: "day",
          header: "Day of the month",
          width: 150,
          align: "right",
          value: (m) => String(m.day),
        },
      ]}
      fields={[
        { key: "account", label: "Account", kind: "text", required: true, fixed: true },
        {
          key: "day",
          label: "Day of the month",
          kind: "text",
          required: true,
          hint: "Its last day where it is shorter.",
        },
        { key: "ended", label: "Not paid monthly any more", kind: "check" },
      ]}
      toValues={(m) => ({ account: m?.account ?? "", day: m ? String(m.day) : "", ended: false })}
      save={(v) => saveRecordAction("monthlyPayment", v)}
    />
  );
}
