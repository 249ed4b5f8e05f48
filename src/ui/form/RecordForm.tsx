"use client";
import { PanelFrame } from "../panel/PanelFrame";
import { useEffect, useImperativeHandle, useRef, useState, type ReactNode, type Ref } from "react";
import { Problems } from "../Page";
import type { Fault } from "./fault";
import { RecordInput, type RecordField } from "./RecordInput";
import { useLeaveGuard } from "./useLeaveGuard";
import { useRecordForm, type Derive, type RecordValues } from "./useRecordForm";

/** Goes on once nothing typed is left behind, or somebody has said that it may be. */
export type Leave = (then: () => void) => void;

interface Props {
  title: string;
  fields: readonly RecordField[];
  start: RecordValues;
  /** Whether it changes what is there: what is fixed then stays. */
  stands: boolean;
  mayChange: boolean;
  check: ((values: RecordValues) => Fault[]) | undefined;
  /** Null where the server did not answer. */
  save(values: RecordValues): Promise<readonly Fault[] | null>;
  remove: (() => Promise<readonly Fault[] | null>) | undefined;
  /** Names of the fields that count with what is written so far; all where nothing is said. */
  shows: ((values: RecordValues) => readonly string[]) | undefined;
  /** What follows from what was just typed, for other fields. */
  derive?: Derive | undefined;
  close(): void;
  /** Where whoever opens another record asks this one whether it may be left. */
  leaving: Ref<Leave>;
  aside?: ReactNode;
}

/**
 * The form of one record beside its list: the first field has the focus, Enter saves, Esc leaves,
 * and asks where something was typed.
 */
export function RecordForm(props: Props) {
  const { title, fields, start, stands, mayChange, shows, close, aside } = props;
  const isShown = (key: string, values: RecordValues) =>
    fields.some((f) => f.key === key) && (shows?.(values).includes(key) ?? true);
  const record = useRecordForm({
    start,
    isShown,
    check: props.check,
    save: props.save,
    saved: close,
    derive: props.derive,
  });
  const { form, submit, general } = record;
  const { isDirty, isSubmitting } = form.formState;
  const guard = useLeaveGuard(isDirty && mayChange);
  const [removing, setRemoving] = useState(false);
  useImperativeHandle(props.leaving, () => guard.leave);
  const panel = useRef<HTMLElement>(null);
  /** Where somebody typed last: there they go on. A choice would open its list over the page. */
  const typed = useRef<HTMLElement | null>(null);
  const stay = () => {
    guard.stay();
    typed.current?.focus();
  };
  useEffect(() => {
    const first = "input:not([type=checkbox]):not([readonly]), select, textarea";
    panel.current?.querySelector<HTMLElement>(`form :is(${first}):not(:disabled)`)?.focus();
  }, []);
  // Drawn anew with what is typed where that decides which fields there are.
  if (shows) form.watch();
  const values = record.values();
  const remove = async () => {
    setRemoving(true);
    const faults = await props.remove!();
    setRemoving(false);
    if (faults?.length === 0) return close();
    record.setGeneral(faults?.map((f) => f.message) ?? ["The server did not answer. Try again."]);
  };
  return (
    <PanelFrame
      ref={panel}
      label={title}
      name="form"
      width={340}
      data-keys="Enter=Save;Esc=Leave the form"
      onFocus={({ target }) => {
        if (target.matches("input:not([role=combobox]), select, textarea")) typed.current = target;
      }}
      onKeyDown={(e) => {
        if (e.key !== "Escape" || e.defaultPrevented) return;
        e.preventDefault();
        if (guard.leaving) stay();
        else guard.leave(close);
      }}
    >
      <div className="flex min-h-0 flex-1 flex-col overflow-y-auto px-4 py-3.5">
        <h2 className="mb-3">{title}</h2>
        <form
          className="grid gap-2.5"
          noValidate
          onSubmit={(e) => {
            // Nothing was changed: there is nothing to save.
            if (stands && !isDirty) {
              e.preventDefault();
              close();
            } else void submit(e);
          }}
        >
          <Problems messages={general} />
          {fields
            .filter((f) => isShown(f.key, values))
            .map((field) => (
              <RecordInput
                key={field.key}
                field={field}
                form={form}
                problem={record.problemOf(field.key)}
                disabled={!mayChange}
                stands={stands}
              />
            ))}
          {guard.leaving ? (
            <NotSaved drop={guard.leaving} stay={stay} />
          ) : (
            <div className="mt-1 flex gap-2">
              {mayChange && (
                <button type="submit" className="button button-main" disabled={isSubmitting}>
                  Save
                </button>
              )}
              <button type="button" className="button" onClick={() => guard.leave(close)}>
                {mayChange ? "Cancel" : "Close"}
              </button>
              {mayChange && props.remove && (
                <button
                  type="button"
                  className="button ml-auto"
                  disabled={isSubmitting || removing}
                  onClick={() => void remove()}
                >
                  Delete
                </button>
              )}
            </div>
          )}
        </form>
        {aside && <div className="mt-5">{aside}</div>}
      </div>
    </PanelFrame>
  );
}

function NotSaved({ drop, stay }: { drop: () => void; stay: () => void }) {
  return (
    <div role="alertdialog" aria-label="Not saved" className="notice grid gap-2">
      <p>Your changes are not saved.</p>
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="button button-main" onClick={stay}>
          Save
        </button>
        <button type="button" className="button" onClick={drop}>
          Discard
        </button>
        <button type="button" className="button" autoFocus onClick={stay}>
          Keep editing
        </button>
      </div>
    </div>
  );
}
