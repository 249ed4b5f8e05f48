import type { ReactNode } from "react";

export interface FieldProps {
  id: string;
  "aria-invalid"?: true;
  "aria-describedby"?: string;
}

/** A labelled field in the head of a worksheet, with what is wrong or worth knowing below it. */
export function Field({
  id,
  label,
  required,
  needed,
  problem,
  hint,
  width,
  children,
}: {
  id: string;
  label: string;
  required?: boolean;
  /** Not required, but what one writes next all the same. */
  needed?: boolean;
  problem?: string | undefined;
  hint?: string | undefined;
  width: string;
  children: (props: FieldProps) => ReactNode;
}) {
  return (
    <div className={`min-w-0 ${width}`} data-needed={required || needed || undefined}>
      <label
        htmlFor={id}
        title={label}
        className={`label truncate ${required ? "label-required" : ""}`}
      >
        {label}
      </label>
      {children({
        id,
        ...(problem ? { "aria-invalid": true as const, "aria-describedby": `${id}-problem` } : {}),
      })}
      {problem && (
        <p id={`${id}-problem`} className="pt-0.5 text-xs text-coral">
          {problem}
        </p>
      )}
      {!problem && hint && <p className="pt-0.5 text-xs text-ink-2">{hint}</p>}
    </div>
  );
}
