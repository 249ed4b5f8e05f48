"use client";
import { useRouter } from "next/navigation";
import { useState, type ReactNode } from "react";
import { toast } from "sonner";
import { Page, Problems } from "./Page";
import { DataTable, type TableColumn } from "./table/DataTable";

export interface RecordField {
  key: string;
  label: string;
  kind: "text" | "select" | "check" | "date" | "password" | "checks";
  options?: readonly { value: string; text: string }[];
  required?: boolean;
  /** Can be given once and not changed later. */
  fixed?: boolean;
  hint?: string;
  placeholder?: string;
}
export type RecordValues = Record<string, string | boolean | string[]>;
type Saved =
  | { ok: true }
  | { ok: false; message: string; problems: { field: string | null; message: string }[] };

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
  save: (values: RecordValues, row: T | null) => Promise<Saved>;
  mayChange: boolean;
  actions?: ReactNode;
  /** Above the list: what is wrong with it as a whole. */
  notice?: ReactNode;
  /** How many rows there are in all, where these are only the newest of them. */
  of?: number | undefined;
  empty: ReactNode;
  aside?: (row: T) => ReactNode;
  /** Takes a record out; what stands against it is said where the form says it. */
  remove?: ((row: T) => Promise<Saved>) | undefined;
  /** Names of the fields that count with what is written so far; all where nothing is said. */
  shows?: (values: RecordValues) => readonly string[];
}

/** A list of records of the set-up with the form of the chosen one beside it. */
export function RecordPage<T>(props: Props<T>) {
  const {
    title,
    note,
    name,
    rows,
    columns,
    rowKey,
    fields,
    add,
    toValues,
    mayChange,
    actions,
    empty,
    aside,
  } = props;
  const [chosen, setChosen] = useState<{ row: T | null } | null>(null);
  const [values, setValues] = useState<RecordValues>({});
  const [problems, setProblems] = useState<{ field: string | null; message: string }[]>([]);
  const [busy, setBusy] = useState(false);
  const router = useRouter();
  const open = (row: T | null) => {
    setChosen({ row });
    setValues(toValues(row));
    setProblems([]);
  };
  const save = async () => {
    setBusy(true);
    const result = await props.save(values, chosen?.row ?? null).catch(() => null);
    setBusy(false);
    if (!result)
      return setProblems([
        {
          field: null,
          message: "The server did not answer. What you typed is still here; try again.",
        },
      ]);
    if (!result.ok) return setProblems(result.problems);
    toast.success("Saved.");
    setChosen(null);
    router.refresh();
  };
  const remove = async (row: T) => {
    setBusy(true);
    const result = await props.remove!(row).catch(() => null);
    setBusy(false);
    if (!result)
      return setProblems([{ field: null, message: "The server did not answer. Try again." }]);
    if (!result.ok)
      return setProblems(result.problems.map(({ message }) => ({ field: null, message })));
    toast.success("Deleted.");
    setChosen(null);
    router.refresh();
  };
  const shown = props.shows?.(values);
  const known = new Set(fields.map((f) => f.key).filter((k) => shown?.includes(k) ?? true));
  return (
    <Page
      title={title}
      note={note}
      actions={
        <>
          {actions}
          {add && mayChange && (
            <button type="button" className="button button-main" onClick={() => open(null)}>
              {add}
            </button>
          )}
        </>
      }
      panel={
        chosen && (
          <aside
            aria-label={chosen.row ? "Change" : (add ?? "Add")}
            className="flex w-[340px] shrink-0 flex-col overflow-y-auto border-l border-line bg-panel px-4 py-3.5"
          >
            <h2 className="mb-3">{chosen.row ? (mayChange ? "Change" : "Details") : add}</h2>
            <form
              className="grid gap-2.5"
              onSubmit={(e) => {
                e.preventDefault();
                void save();
              }}
            >
              <Problems
                messages={problems
                  .filter((p) => !p.field || !known.has(p.field))
                  .map((p) => p.message)}
              />
              {fields
                .filter((f) => known.has(f.key))
                .map((f) => {
                  const problem = problems.find((p) => p.field === f.key)?.message;
                  const id = `record-${f.key}`;
                  const common = {
                    id,
                    disabled: !mayChange,
                    "aria-invalid": problem ? (true as const) : undefined,
                    "aria-describedby": problem ? `${id}-problem` : undefined,
                  };
                  const value = values[f.key];
                  const set = (v: string | boolean | string[]) =>
                    setValues((all) => ({ ...all, [f.key]: v }));
                  return (
                    <div key={f.key}>
                      {f.kind === "check" ? (
                        <label className="flex items-center gap-2">
                          <input
                            type="checkbox"
                            {...common}
                            checked={value === true}
                            onChange={(e) => set(e.target.checked)}
                          />
                          {f.label}
                        </label>
                      ) : f.kind === "checks" ? (
                        <fieldset>
                          <legend className="label">{f.label}</legend>
                          <div className="grid grid-cols-2 gap-x-3">
                            {f.options?.map((o) => (
                              <label key={o.value} className="flex items-center gap-2 py-0.5">
                                <input
                                  type="checkbox"
                                  disabled={!mayChange}
                                  checked={Array.isArray(value) && value.includes(o.value)}
                                  onChange={(e) =>
                                    set(
                                      e.target.checked
                                        ? [...((value as string[] | undefined) ?? []), o.value]
                                        : ((value as string[] | undefined) ?? []).filter(
                                            (x) => x !== o.value,
                                          ),
                                    )
                                  }
                                />
                                {o.text}
                              </label>
                            ))}
                          </div>
                        </fieldset>
                      ) : (
                        <>
                          <label
                            htmlFor={id}
                            className={`label ${f.required ? "label-required" : ""}`}
                          >
                            {f.label}
                          </label>
                          {f.kind === "select" ? (
                            <select
                              {...common}
                              className="field"
                              value={String(value ?? "")}
                              onChange={(e) => set(e.target.value)}
                            >
                              {f.options?.map((o) => (
                                <option key={o.value} value={o.value}>
                                  {o.text}
                                </option>
                              ))}
                            </select>
                          ) : (
                            <input
                              {...common}
                              type={f.kind}
                              autoComplete={f.kind === "password" ? "new-password" : "off"}
                              readOnly={f.fixed && chosen.row !== null}
                              placeholder={f.placeholder}
                              className="field"
                              value={String(value ?? "")}
                              onChange={(e) => set(e.target.value)}
                            />
                          )}
                        </>
                      )}
                      {f.hint && <p className="pt-0.5 text-xs text-ink-3">{f.hint}</p>}
                      {problem && (
                        <p id={`${id}-problem`} className="pt-0.5 text-xs text-coral">
                          {problem}
                        </p>
                      )}
                    </div>
                  );
                })}
              <div className="mt-1 flex gap-2">
                {mayChange && (
                  <button type="submit" className="button button-main" disabled={busy}>
                    Save
                  </button>
                )}
                <button type="button" className="button" onClick={() => setChosen(null)}>
                  {mayChange ? "Leave it" : "Close"}
                </button>
                {mayChange && props.remove && chosen.row && (
                  <button
                    type="button"
                    className="button ml-auto"
                    disabled={busy}
                    onClick={() => void remove(chosen.row!)}
                  >
                    Delete
                  </button>
                )}
              </div>
            </form>
            {chosen.row && aside && <div className="mt-5">{aside(chosen.row)}</div>}
          </aside>
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
        empty={empty}
      />
    </Page>
  );
}
