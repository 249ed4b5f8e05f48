"use client";
import { useRouter } from "next/navigation";
import { useRef, useState, type ReactNode } from "react";
import { toast } from "sonner";
import {
  RecordForm,
  type Derive,
  type Fault,
  type Leave,
  type RecordField,
  type RecordValues,
} from "./form";
import { Page } from "./Page";
import { DataTable, type TableColumn } from "./table/DataTable";

export type { RecordField, RecordValues };
type Saved = { ok: true } | { ok: false; message: string; problems: Fault[] };

interface Props<T> {
  title: string;
  note: string;
  name: string;
  rows: readonly T[];
  columns: readonly TableColumn<T>[];
  rowKey: (row: T) => string;
  fields: readonly RecordField[];
  /** The word on the button for a new one; none where the person may not add. */
  add: string | null;
  toValues: (row: T | null) => RecordValues;
  /** What is wrong with the values, by the schema of the use case that saves them. */
  check?: (values: RecordValues, row: T | null) => Fault[];
  save: (values: RecordValues, row: T | null) => Promise<Saved>;
  mayChange: boolean;
  actions?: ReactNode;
  /** Above the list: what is wrong with it as a whole. */
  notice?: ReactNode;
  /** How many rows there are in all, where these are only the newest of them. */
  of?: number | undefined;
  empty: ReactNode;
  /** A new record is begun at once, with what it starts with. */
  begins?: boolean;
  aside?: (row: T) => ReactNode;
  /** Takes a record out; what stands against it is said where the form says it. */
  remove?: ((row: T) => Promise<Saved>) | undefined;
  /** Names of the fields that count with what is written so far; all where nothing is said. */
  shows?: (values: RecordValues) => readonly string[];
  /** What follows from a change of one field, for others. */
  derive?: Derive;
}

const faultsOfAnswer = (answer: Saved | null): readonly Fault[] | null => {
  if (answer === null) return null;
  if (answer.ok) return [];
  return answer.problems.length > 0 ? answer.problems : [{ field: null, message: answer.message }];
};

/** A list of records of the set-up with the form of the chosen one beside it. */
export function RecordPage<T>(props: Props<T>) {
  const { title, note, name, rows, columns, rowKey, fields, add, toValues, mayChange } = props;
  // Each opening is a form of its own.
  const [chosen, setChosen] = useState<{ row: T | null; opened: number } | null>(
    props.begins ? { row: null, opened: 0 } : null,
  );
  const router = useRouter();
  const leaving = useRef<Leave | null>(null);
  const open = (next: T | null) => {
    const isOpen = chosen && next && chosen.row && rowKey(chosen.row) === rowKey(next);
    if (isOpen) return;
    const then = () => setChosen({ row: next, opened: (chosen?.opened ?? 0) + 1 });
    if (leaving.current) leaving.current(then);
    else then();
  };
  const done = (word: string, answer: Saved | null) => {
    if (answer?.ok) {
      toast.success(word);
      router.refresh();
    }
    return faultsOfAnswer(answer);
  };
  const { check, remove } = props;
  const row = chosen?.row ?? null;
  return (
    <Page
      title={title}
      note={note}
      actions={
        <>
          {props.actions}
          {add && mayChange && (
            <button type="button" className="button button-main" onClick={() => open(null)}>
              {add}
            </button>
          )}
        </>
      }
      panel={
        chosen && (
          <RecordForm
            key={chosen.opened}
            title={row === null ? (add ?? "Add") : mayChange ? "Change" : "Details"}
            fields={fields}
            start={toValues(row)}
            stands={row !== null}
            mayChange={mayChange}
            check={check && ((values) => check(values, row))}
            save={async (values) => done("Saved.", await props.save(values, row).catch(() => null))}
            remove={
              remove && row !== null
                ? async () => done("Deleted.", await remove(row).catch(() => null))
                : undefined
            }
            shows={props.shows}
            derive={props.derive}
            close={() => setChosen(null)}
            leaving={leaving}
            aside={row !== null && props.aside?.(row)}
          />
        )
      }
    >
      {props.notice}
      <DataTable
        name={name}
        rows={rows}
        columns={columns}
        rowKey={rowKey}
        currency="EUR"
        of={props.of}
        onOpen={open}
        empty={props.empty}
      />
    </Page>
  );
}
