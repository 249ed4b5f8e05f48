import { useCallback, useEffect, useRef, useState } from "react";
import { useForm, type FieldErrors, type Resolver } from "react-hook-form";
import type { Fault } from "./fault";

export type RecordValues = Record<string, string | boolean | string[]>;

/** A key as the form library takes it: there a point would lead into an object. */
export const nameOf = (key: string): string => key.replaceAll(".", "__");
const keyOf = (name: string): string => name.replaceAll("__", ".");

const renamed = (values: RecordValues, rename: (key: string) => string): RecordValues =>
  Object.fromEntries(Object.entries(values).map(([key, value]) => [rename(key), value]));

/** Values of other fields that follow from a change of one; `before` is what stood until then. */
export type Derive = (now: RecordValues, changed: string, before: RecordValues) => RecordValues;

interface Options {
  start: RecordValues;
  /** Names of the fields that are shown: what is wrong elsewhere is said of the whole. */
  isShown(key: string, values: RecordValues): boolean;
  /** What is wrong with the values, by the schema of the use case. */
  check: ((values: RecordValues) => Fault[]) | undefined;
  /** Null where the server did not answer. */
  save(values: RecordValues): Promise<readonly Fault[] | null>;
  saved(): void;
  derive?: Derive | undefined;
}

/**
 * The state of a form: faults at their fields as soon as one is left and while it is corrected,
 * those of the server alike; the first of them gets the focus. Nothing typed is lost by a refusal.
 */
export function useRecordForm({ start, isShown, check, save, saved, derive }: Options) {
  const asked = useRef({ isShown, check, derive });
  useEffect(() => {
    asked.current = { isShown, check, derive };
  });
  const resolver: Resolver<RecordValues> = useCallback((named) => {
    const values = renamed(named, keyOf);
    const { isShown: shown, check: faults } = asked.current;
    const errors: FieldErrors<RecordValues> = {};
    // What is wrong outside the shown fields is the server's to say, with the whole.
    for (const fault of faults?.(values) ?? [])
      if (fault.field && shown(fault.field, values))
        errors[nameOf(fault.field)] ??= { type: "schema", message: fault.message };
    return Object.keys(errors).length > 0 ? { values: {}, errors } : { values: named, errors: {} };
  }, []);
  const form = useForm<RecordValues>({
    defaultValues: renamed(start, nameOf),
    mode: "onTouched",
    resolver,
  });
  const before = useRef(start);
  useEffect(() => {
    const subscription = form.watch((named, { name }) => {
      const now = renamed(named as RecordValues, keyOf);
      const was = before.current;
      before.current = now;
      // What is set here from somewhere else has no name of a field that was typed in.
      if (!name || !asked.current.derive) return;
      const follows = Object.entries(asked.current.derive(now, keyOf(name), was)).filter(
        ([key, value]) => now[key] !== value,
      );
      for (const [key, value] of follows)
        form.setValue(nameOf(key), value, { shouldDirty: true, shouldValidate: false });
    });
    return () => subscription.unsubscribe();
  }, [form]);
  const [general, setGeneral] = useState<string[]>([]);
  const submit = form.handleSubmit(async (named) => {
    setGeneral([]);
    const values = renamed(named, keyOf);
    const faults = await save(values);
    if (faults === null)
      return setGeneral(["The server did not answer. What you typed is still here; try again."]);
    if (faults.length === 0) return saved();
    const at = faults.filter((f) => f.field !== null && isShown(f.field, values));
    setGeneral(faults.filter((f) => !at.includes(f)).map((f) => f.message));
    for (const [i, fault] of at.entries())
      form.setError(
        nameOf(fault.field!),
        { type: "server", message: fault.message },
        { shouldFocus: i === 0 },
      );
  });
  return {
    form,
    submit,
    general,
    setGeneral,
    values: () => renamed(form.getValues(), keyOf),
    /** What stands there now is what is kept, or it begins with these values again. */
    restart: (values?: RecordValues) =>
      form.reset(values ? renamed(values, nameOf) : form.getValues()),
    problemOf: (key: string): string | undefined => {
      const error = form.formState.errors[nameOf(key)] as { message?: string } | undefined;
      return error?.message;
    },
  };
}
