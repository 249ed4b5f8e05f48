"use client";
import { bankRecordSchema } from "@/core/banks";
import type { BankRecord } from "@/server/banks";
import { faultsOf } from "@/ui/form";
import { useToday } from "@/ui/frame/work";
import { FileLoad } from "@/ui/FileLoad";
import { Empty } from "@/ui/Page";
import { RecordPage, type RecordValues } from "@/ui/RecordPage";
import { shownDate } from "@/ui/writing";
import { sendTable } from "@/app/lib/sendFile";
import { saveRecordAction } from "../actions";

const days = (text: unknown): string[] =>
  (typeof text === "string" ? text : "").split(/[\s,;]+/).filter(Boolean);

const inputOf = (v: RecordValues, row: BankRecord | null) => ({
  ...v,
  holidays: days(v.holidays),
  ...(row ? { id: row.id, version: row.version } : {}),
});

/** The banks of the group: entered once for all accounts there. */
export function Banks({ rows, mayChange }: { rows: BankRecord[]; mayChange: boolean }) {
  const today = useToday();
  return (
    <RecordPage<BankRecord>
      title="Banks"
      note="once for all accounts that are kept there"
      name="banks"
      rows={rows}
      rowKey={(b) => String(b.id)}
      mayChange={mayChange}
      add={mayChange ? "Add a bank" : null}
      actions={mayChange && <FileLoad label="Load" what="banks" load={sendTable("banks")} />}
      empty={<Empty title="No bank yet">The form of a bank account adds its bank, too.</Empty>}
      columns={[
        { key: "name", header: "Name", value: (b) => b.name },
        { key: "country", header: "Country", width: 84, value: (b) => b.country },
        { key: "nationalCode", header: "Bank code", width: 120, value: (b) => b.nationalCode },
        { key: "bic", header: "BIC", width: 130, value: (b) => b.bic },
        { key: "cutOff", header: "Cut-off time", width: 104, value: (b) => b.cutOff },
        {
          key: "holidays",
          header: "Next holiday",
          width: 130,
          value: (b) => b.holidays.find((day) => day >= today) ?? "",
          cell: (b) => {
            const next = b.holidays.find((day) => day >= today);
            return next ? shownDate(next) : "";
          },
        },
        { key: "contact", header: "Contact", width: 200, value: (b) => b.contact },
        {
          key: "accounts",
          header: "Accounts",
          width: 90,
          align: "right",
          value: (b) => b.accounts,
        },
      ]}
      fields={[
        { key: "name", label: "Name", kind: "text", required: true },
        { key: "country", label: "Country", kind: "text", required: true, placeholder: "IE" },
        { key: "nationalCode", label: "Bank code, sort code or routing code", kind: "text" },
        { key: "bic", label: "BIC", kind: "text" },
        { key: "address", label: "Address", kind: "lines" },
        { key: "contact", label: "Contact", kind: "text" },
        {
          key: "cutOff",
          label: "Cut-off time",
          kind: "text",
          placeholder: "14:30",
          hint: "Until then it takes payments for the same day.",
        },
        {
          key: "holidays",
          label: "Own holidays",
          kind: "lines",
          placeholder: "2026-12-24",
          hint: "A day a line, as year-month-day: beside weekends and the days of its currency.",
        },
        {
          key: "withAccounts",
          label: "Also change the accounts that still have what stood here",
          kind: "check",
        },
      ]}
      toValues={(b) => ({
        name: b?.name ?? "",
        country: b?.country ?? "",
        nationalCode: b?.nationalCode ?? "",
        bic: b?.bic ?? "",
        address: b?.address ?? "",
        contact: b?.contact ?? "",
        cutOff: b?.cutOff ?? "",
        holidays: b?.holidays.join("\n") ?? "",
        withAccounts: true,
      })}
      check={(v, row) => faultsOf(bankRecordSchema, inputOf(v, row))}
      save={(v, row) => saveRecordAction("bank", inputOf(v, row))}
    />
  );
}
