import { RHYTHM_UNITS } from "@/core/shared";
import { DateField } from "@/ui/date/DateField";
import { Field } from "@/ui/Field";

/** When something comes again, as it is written. */
export interface WrittenRhythm {
  every: string;
  unit: (typeof RHYTHM_UNITS)[number];
  first: string;
  until: string;
}

/** The fields by which a person says when something comes again. */
export function RhythmFields({
  id,
  first,
  value,
  onChange,
  problem,
}: {
  /** Before the names of the fields. */
  id: string;
  /** What the first date is called. */
  first: string;
  value: WrittenRhythm;
  onChange: (change: Partial<WrittenRhythm>) => void;
  problem: (field: string) => string | undefined;
}) {
  const day = (key: "first" | "until", label: string, placeholder: string) => (
    <Field
      id={`${id}-${key}`}
      label={label}
      required={key === "first"}
      problem={problem(key)}
      width="w-32"
    >
      {(p) => (
        <DateField
          {...p}
          placeholder={placeholder}
          value={value[key]}
          onChange={(text) => onChange({ [key]: text })}
        />
      )}
    </Field>
  );
  return (
    <>
      <Field id={`${id}-every`} label="Every" required problem={problem("every")} width="w-16">
        {(p) => (
          <input
            {...p}
            className="field"
            inputMode="numeric"
            value={value.every}
            onChange={(e) => onChange({ every: e.target.value })}
          />
        )}
      </Field>
      <Field id={`${id}-unit`} label="Unit" width="w-24">
        {(p) => (
          <select
            {...p}
            className="field"
            value={value.unit}
            onChange={(e) => onChange({ unit: e.target.value as WrittenRhythm["unit"] })}
          >
            {RHYTHM_UNITS.map((u) => (
              <option key={u}>{u}</option>
            ))}
          </select>
        )}
      </Field>
      {day("first", first, "1 Jan 2027")}
      {day("until", "Last date", "without end")}
    </>
  );
}
