"use client";
import type { JournalType } from "@/core/ledger";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";

/**
 * What each type of journal proposes and how it is reversed. Types that come from documents and
 * runs are shown, not changed.
 */
export function JournalTypes({ rows, mayChange }: { rows: JournalType[]; mayChange: boolean }) {
  const { books } = useWork();
  return (
    <RecordPage<JournalType>
      title="Journal types"
      note="what each proposes, and how it is reversed"
      name="types"
      rows={rows}
      rowKey={(t) => t.code}
      mayChange={mayChange}
      add="Add a type"
      empty={<Empty title="No type yet" />}
      columns={[
        { key: "code", header: "Code", width: 130, value: (t) => t.code },
        { key: "name", header: "Name", width: 180, value: (t) => t.name },
        { key: "area", header: "Area", width: 110, value: (t) => t.area },
        {
          key: "manual",
          header: "Entry",
          width: 120,
          value: (t) => (t.manual ? "manual" : "automatic"),
        },
        { key: "naming", header: "Description begins with", value: (t) => t.naming },
        {
          key: "prefix",
          header: "First number",
          width: 106,
          value: (t) => (t.prefix ? `${t.prefix}00001` : "00001"),
        },
        {
          key: "books",
          header: "Books",
          width: 110,
          value: (t) => (t.books.length > 0 ? `${t.books.join(", ")} only` : "all"),
        },
        {
          key: "approval",
          header: "Approval",
          width: 100,
          value: (t) => (t.approval === "rules" ? "by the rules" : t.approval),
        },
        {
          key: "reverses",
          header: "Reversed",
          width: 150,
          value: (t) =>
            t.reverses ? (t.autoReverse ? "next period, automatic" : "next period") : "on request",
        },
        {
          key: "reversal",
          header: "Reversal method",
          width: 140,
          value: (t) => (t.reversal === "swap" ? "swapped sides" : "negative amounts"),
        },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "naming",
          label: "Description starts with",
          kind: "text",
          placeholder: "Accrual, {month}: ",
          hint: "{month}, {year} and {company} are filled in.",
        },
        {
          key: "reversal",
          label: "Reversed by",
          kind: "select",
          options: [
            { value: "swap", text: "swapped sides" },
            { value: "negative", text: "negative amounts, so that turnover stays right" },
          ],
        },
        {
          key: "prefix",
          label: "Letters before its numbers",
          kind: "text",
          hint: "Types with the same letters share one series without gaps.",
        },
        {
          key: "approval",
          label: "Approval",
          kind: "select",
          options: [
            { value: "rules", text: "as the approval rules say" },
            { value: "always", text: "always, by a controller" },
            { value: "never", text: "never" },
          ],
        },
        {
          key: "books",
          label: "Belongs to one of these books alone",
          kind: "checks",
          options: books.map((b) => ({ value: b.code, text: b.name })),
          hint: "None ticked: to all books together, or to any one.",
        },
        {
          key: "controls",
          label: "May reach the control accounts of",
          kind: "checks",
          options: ["payables", "receivables", "intercompany"].map((k) => ({ value: k, text: k })),
        },
        { key: "reverses", label: "Reversed on the first day of the next period", kind: "check" },
        {
          key: "autoReverse",
          label: "Due reversals post by themselves when the period opens",
          kind: "check",
        },
      ]}
      toValues={(t) => ({
        code: t?.code ?? "",
        name: t?.name ?? "",
        naming: t?.naming ?? "",
        reversal: t?.reversal ?? "swap",
        reverses: t?.reverses ?? false,
        autoReverse: t?.autoReverse ?? false,
        prefix: t?.prefix ?? "",
        approval: t?.approval ?? "rules",
        books: [...(t?.books ?? [])],
        controls: [...(t?.controls ?? ["payables", "receivables"])],
      })}
      save={(v) => saveRecordAction("journalType", v)}
    />
  );
}
