"use client";
import { useEffect } from "react";
import { Controller, type UseFormReturn } from "react-hook-form";
import { DateField } from "../date/DateField";
import { FigureField } from "../FigureField";
import { shownFigures } from "../writing";
import { Choice, type Option } from "./Choice";
import { nameOf, type RecordValues } from "./useRecordForm";

export interface RecordField {
  key: string;
  label: string;
  kind: "text" | "figure" | "select" | "check" | "date" | "password" | "checks" | "lines";
  options?: readonly Option[];
  /** Of a select: what is typed counts even where no choice is that. */
  free?: boolean;
  required?: boolean;
  /** Can be given once and not changed later. */
  fixed?: boolean;
  hint?: string;
  placeholder?: string;
  /** What a browser may fill in: a new password where nothing is said. */
  complete?: "current-password";
  /** Over all columns, where a form has several. */
  wide?: boolean;
}

interface Props {
  /** Begins the identities of the form's fields. */
  name?: string;
  field: RecordField;
  form: UseFormReturn<RecordValues>;
  problem: string | undefined;
  disabled: boolean;
  /** Whether what is fixed stands already. */
  stands: boolean;
}

/** A field of a record with its label, what is worth knowing, and what is wrong with it. */
export function RecordInput(props: Props) {
  const { name = "record", field, problem } = props;
  const id = `${name}-${field.key}`;
  return (
    <div>
      <Control {...props} id={id} />
      {field.hint && <p className="pt-0.5 text-xs text-ink-3">{field.hint}</p>}
      {problem && (
        <p id={`${id}-problem`} className="pt-0.5 text-xs text-coral">
          {problem}
        </p>
      )}
    </div>
  );
}

function Control({ field, form, problem, disabled, stands, id }: Props & { id: string }) {
  const name = nameOf(field.key);
  const common = {
    id,
    disabled,
    "aria-invalid": problem ? (true as const) : undefined,
    "aria-describedby": problem ? `${id}-problem` : undefined,
  };
  if (field.kind === "check")
    return (
      <label className="flex items-center gap-2">
        <input type="checkbox" {...common} {...form.register(name)} />
        {field.label}
      </label>
    );
  if (field.kind === "checks") return <Several {...{ field, form, disabled, name }} />;
  return (
    <>
      <label htmlFor={id} className={`label ${field.required ? "label-required" : ""}`}>
        {field.label}
      </label>
      {field.kind === "select" ? (
        <Controller
          name={name}
          control={form.control}
          render={({ field: { value, onChange, onBlur, ref } }) => (
            <>
              <Focusable of={ref} id={id} />
              <Choice
                {...common}
                value={typeof value === "string" ? value : ""}
                options={field.options ?? []}
                free={field.free}
                onChange={onChange}
                onBlur={onBlur}
              />
            </>
          )}
        />
      ) : field.kind === "date" ? (
        <Controller
          name={name}
          control={form.control}
          render={({ field: { value, onChange, onBlur, ref } }) => (
            <>
              <Focusable of={ref} id={id} />
              <DateField
                {...common}
                as="day"
                value={typeof value === "string" ? value : ""}
                readOnly={(field.fixed ?? false) && stands}
                onChange={onChange}
                onBlur={onBlur}
              />
            </>
          )}
        />
      ) : field.kind === "figure" ? (
        <Controller
          name={name}
          control={form.control}
          render={({ field: { value, onChange, onBlur, ref } }) => (
            <>
              <Focusable of={ref} id={id} />
              <FigureField
                {...common}
                value={typeof value === "string" ? value : ""}
                readOnly={(field.fixed ?? false) && stands}
                placeholder={shownFigures(field.placeholder ?? "")}
                onChange={onChange}
                onLeave={onBlur}
              />
            </>
          )}
        />
      ) : field.kind === "lines" ? (
        <textarea
          {...common}
          rows={3}
          readOnly={(field.fixed ?? false) && stands}
          placeholder={field.placeholder}
          className="field h-auto! py-1.5"
          // Enter is a new line here, and saves nothing.
          onKeyDown={(e) => e.key === "Enter" && !e.ctrlKey && e.stopPropagation()}
          {...form.register(name)}
        />
      ) : (
        <input
          {...common}
          type={field.kind}
          autoComplete={field.kind === "password" ? (field.complete ?? "new-password") : "off"}
          readOnly={(field.fixed ?? false) && stands}
          placeholder={field.placeholder}
          className="field"
          {...form.register(name)}
        />
      )}
    </>
  );
}

/** The form library focuses a field that is wrong; what is not an input of its own is found by name. */
function Focusable({ of, id }: { of: (target: { focus: () => void }) => void; id: string }) {
  useEffect(() => of({ focus: () => document.getElementById(id)?.focus() }), [of, id]);
  return null;
}

function Several({
  field,
  form,
  disabled,
  name,
}: Pick<Props, "field" | "form" | "disabled"> & { name: string }) {
  return (
    <fieldset>
      <legend className="label">{field.label}</legend>
      <div className="grid grid-cols-2 gap-x-3">
        {field.options?.map((o) => (
          <label key={o.value} className="flex items-center gap-2 py-0.5">
            <input type="checkbox" value={o.value} disabled={disabled} {...form.register(name)} />
            {o.text}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
