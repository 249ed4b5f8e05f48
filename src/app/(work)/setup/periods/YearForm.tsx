"use client";
import { useRouter } from "next/navigation";
import { WEEK_DIVISIONS } from "@/core/organisation";
import type { PeriodMatrix } from "@/server/organisation";
import { FieldForm } from "@/app/lib/FieldForm";
import type { RecordField } from "@/ui/form";
import { saveRecordAction } from "../actions";

const fieldsOf = (isFirst: boolean): RecordField[] => [
  { key: "name", label: "Year", kind: "text" },
  { key: "description", label: "Description", kind: "text" },
  {
    key: "start",
    label: isFirst ? "Starts" : "Follows on, from",
    kind: "date",
    fixed: !isFirst,
  },
  {
    key: "end",
    label: "Last day",
    kind: "date",
    hint: "Empty: twelve months, or 52 weeks.",
  },
  {
    key: "division",
    label: "Divided into",
    kind: "select",
    options: [
      { value: "months", text: "calendar months" },
      ...WEEK_DIVISIONS.map((w) => ({ value: w, text: `weeks, ${w}` })),
      { value: "count", text: "equal parts" },
    ],
  },
  { key: "count", label: "Number of periods", kind: "text" },
  { key: "more", label: "How many more years after it", kind: "text" },
  { key: "adjustment", label: "Adjustment period on the last day", kind: "check", wide: true },
];

/** A year, with more after it where somebody says so, that goes on behind the last one. */
export function YearForm({ matrix, close }: { matrix: PeriodMatrix; close: () => void }) {
  const router = useRouter();
  const isFirst = matrix.years.length === 0;
  const fields = fieldsOf(isFirst);
  return (
    <FieldForm
      name="year"
      className="shrink-0"
      columns={4}
      fields={fields}
      start={{
        name: matrix.next.name,
        description: "",
        start: matrix.next.start,
        end: "",
        division: matrix.next.division,
        count: String(matrix.next.count),
        more: "0",
        adjustment: true,
      }}
      stands={!isFirst}
      shows={({ division }) =>
        fields.map((f) => f.key).filter((key) => key !== "count" || division === "count")
      }
      button="Add"
      main
      job={(values) => saveRecordAction("year", { ...values, company: matrix.company })}
      done="The year is there. Open its periods when they are needed."
      then={() => {
        close();
        router.refresh();
      }}
      close={close}
    />
  );
}
