"use client";
import { bookSchema } from "@/core/organisation";
import type { BookRow } from "@/server/organisation";
import { faultsOf, type RecordValues } from "@/ui/form";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { Status } from "@/ui/Status";
import { saveRecordAction } from "../actions";

const inputOf = (values: RecordValues) => ({
  ...values,
  code: String(values.code).toUpperCase(),
});
const stateOf = (b: BookRow): string => (b.ended ? "ended" : "active");

/** The accounting bases: all of them share what belongs to all books. */
export function Books({ rows, mayChange }: { rows: BookRow[]; mayChange: boolean }) {
  return (
    <RecordPage
      title="Books"
      note="accounting bases; a journal belongs to all of them, or to one alone"
      name="books"
      rows={rows}
      rowKey={(b) => b.code}
      mayChange={mayChange}
      add="Add a book"
      empty={<Empty title="No book yet">The first one is made when the books begin.</Empty>}
      columns={[
        { key: "code", header: "Code", width: 120, value: (b) => b.code },
        { key: "name", header: "Name", value: (b) => b.name },
        { key: "main", header: "Main book", width: 110, value: (b) => (b.main ? "yes" : "") },
        {
          key: "journals",
          header: "Journals of its own",
          width: 160,
          value: (b) => b.journals,
        },
        {
          key: "state",
          header: "State",
          width: 110,
          value: stateOf,
          cell: (b) => <Status of={stateOf(b)} quiet />,
        },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        {
          key: "name",
          label: "Name",
          kind: "text",
          required: true,
          hint: "As IFRS, local GAAP or tax.",
        },
        { key: "ended", label: "Ended: takes no more postings", kind: "check" },
      ]}
      toValues={(b) => ({ code: b?.code ?? "", name: b?.name ?? "", ended: b?.ended ?? false })}
      check={(values) => faultsOf(bookSchema, inputOf(values))}
      save={(values) => saveRecordAction("book", inputOf(values))}
    />
  );
}
