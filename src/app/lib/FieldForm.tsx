"use client";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { Problems } from "@/ui/Page";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import {
  NotSaved,
  RecordInput,
  useLeaveGuard,
  useRecordForm,
  type Derive,
  type Fault,
  type RecordField,
  type RecordValues,
} from "@/ui/form";
import type { Answer } from "./answer";

interface Props<T> {
  /** Begins the identities of its fields. */
  name: string;
  title?: string;
  says?: ReactNode;
  fields: readonly RecordField[];
  start: RecordValues;
  /** Names of the fields that count with what is written so far; all where nothing is said. */
  shows?: (values: RecordValues) => readonly string[];
  /** What is wrong with the values before anybody asks the server. */
  check?: (values: RecordValues) => Fault[];
  /** What follows from a change, such as a shortcut that fills other fields. */
  derive?: Derive;
  /** What is shown of the values so far, above the button. */
  below?: (values: RecordValues) => ReactNode;
  mayChange?: boolean;
  columns?: 1 | 2 | 4;
  className?: string;
  /** What is done: "Change password". */
  button: string;
  /** The one act of its page, which the keys of the page do too. */
  main?: boolean;
  job(values: RecordValues): Promise<Answer<T>>;
  /** What is said when it is done; nothing where it leads to another page. */
  done?: string | ((values: RecordValues) => string);
  then?(value: T, values: RecordValues): void;
  /** Empty again when it is done. */
  empties?: boolean;
  /** It can be left without doing anything: by Esc, or a button. */
  close?: () => void;
  /** What is fixed stands already. */
  stands?: boolean;
}

const COLUMNS = { 1: "", 2: "grid-cols-2 gap-x-5", 4: "grid-cols-4 gap-x-5" };

/**
 * A form that stands on a page by itself: faults at their fields, from the use case's schema and the
 * server alike, nothing lost by a refusal, and a question before what was typed is left behind.
 */
export function FieldForm<T>(props: Props<T>) {
  const {
    name,
    fields,
    start,
    shows,
    mayChange = true,
    columns = 1,
    button,
    main = false,
    close,
  } = props;
  const router = useRouter();
  /** What follows once the form stands as it is kept: nothing is left behind then. */
  const follows = useRef<(() => void) | null>(null);
  const [round, setRound] = useState(0);
  useEffect(() => {
    follows.current?.();
    follows.current = null;
  }, [round]);
  const isShown = (key: string, values: RecordValues) =>
    fields.some((f) => f.key === key) && (shows?.(values).includes(key) ?? true);
  const record = useRecordForm({
    start,
    isShown,
    check: props.check,
    derive: props.derive,
    save: async (values) => {
      const result = await props.job(values).catch(() => null);
      if (!result) return null;
      if (!result.ok) return result.problems;
      if (props.done)
        toast.success(typeof props.done === "string" ? props.done : props.done(values));
      follows.current = () => (props.then ? props.then(result.value, values) : router.refresh());
      return [];
    },
    saved: () => {
      record.restart(props.empties ? start : undefined);
      setRound((n) => n + 1);
    },
  });
  const { isDirty, isSubmitting } = record.form.formState;
  const guard = useLeaveGuard(isDirty && mayChange);
  const submit = () => void record.submit();
  usePrimaryKeys(undefined, main && mayChange ? submit : undefined);
  // Drawn anew with what is typed where that decides which fields there are.
  if (shows || props.below) record.form.watch();
  const values = record.values();
  return (
    <form
      noValidate
      className={`panel grid content-start gap-3 p-4 ${COLUMNS[columns]} ${props.className ?? ""}`}
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
      onKeyDown={(e) => {
        if (e.key !== "Escape" || e.defaultPrevented || !close) return;
        e.preventDefault();
        guard.leave(close);
      }}
    >
      {props.title && <h2 className="col-span-full font-semibold">{props.title}</h2>}
      {props.says && <div className="col-span-full text-ink-2">{props.says}</div>}
      {record.general.length > 0 && (
        <div className="col-span-full">
          <Problems messages={record.general} />
        </div>
      )}
      {fields
        .filter((f) => isShown(f.key, values))
        .map((field) => (
          <div key={field.key} className={field.wide ? "col-span-full" : undefined}>
            <RecordInput
              name={name}
              field={field}
              form={record.form}
              problem={record.problemOf(field.key)}
              disabled={!mayChange}
              stands={props.stands ?? false}
            />
          </div>
        ))}
      {props.below && <div className="col-span-full">{props.below(values)}</div>}
      {mayChange && (
        <div className="col-span-full flex items-center gap-3">
          <button
            type="submit"
            className={`button ${main ? "button-main" : ""}`}
            disabled={isSubmitting}
            data-keys={main ? `Ctrl Shift Enter=${button}` : undefined}
          >
            {button} {main && <kbd>Ctrl ⇧ ⏎</kbd>}
          </button>
          {close && !guard.leaving && (
            <button type="button" className="button" onClick={() => guard.leave(close)}>
              Cancel
            </button>
          )}
          <NotSaved guard={guard} says="What you typed is not saved." />
        </div>
      )}
    </form>
  );
}
