"use client";
import { useState } from "react";
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";

export interface Option {
  value: string;
  text: string;
}
interface Props {
  id: string;
  value: string;
  options: readonly Option[];
  onChange(value: string): void;
  onBlur?: (() => void) | undefined;
  /** What is typed counts even where no choice is that: whoever is asked says what is wrong with it. */
  free?: boolean | undefined;
  disabled?: boolean | undefined;
  "aria-invalid"?: true | undefined;
  "aria-describedby"?: string | undefined;
  "aria-label"?: string | undefined;
}

/** So many choices are seen at a glance; more are looked for. */
const AT_A_GLANCE = 10;
/** How many of those that fit are shown. */
const SHOWN = 50;

/** One of several: a list where they are few, else one that is searched by what is typed. */
export function Choice({ free, ...props }: Props) {
  return free || props.options.length > AT_A_GLANCE ? (
    <Searched {...props} free={free} />
  ) : (
    <Listed {...props} />
  );
}

function Listed({ options, onChange, ...field }: Props) {
  return (
    <select {...field} className="field" onChange={(e) => onChange(e.target.value)}>
      {options.map((o) => (
        <option key={o.value} value={o.value}>
          {o.text}
        </option>
      ))}
    </select>
  );
}

function Searched({ id, value, options, onChange, onBlur, free, disabled, ...aria }: Props) {
  const [typed, setTyped] = useState("");
  const wanted = typed.trim().toLowerCase();
  /** What is meant exactly stands first, then what begins with it. */
  const distance = (o: Option): number =>
    o.value.toLowerCase() === wanted ? 0 : o.text.toLowerCase().startsWith(wanted) ? 1 : 2;
  const found = options
    .filter((o) => o.text.toLowerCase().includes(wanted))
    .sort((a, b) => distance(a) - distance(b))
    .slice(0, SHOWN);
  return (
    <Combobox
      // What is typed freely is not asked for by a list that lies over the form.
      immediate={!free}
      value={value}
      disabled={disabled ?? false}
      onChange={(chosen: string | null) => chosen !== null && onChange(chosen)}
      onClose={() => setTyped("")}
    >
      <ComboboxInput
        id={id}
        {...aria}
        className="field"
        autoComplete="off"
        displayValue={(chosen: string) => options.find((o) => o.value === chosen)?.text ?? chosen}
        onChange={(e) => {
          setTyped(e.target.value);
          if (free) onChange(e.target.value.trim());
        }}
        onFocus={(e) => e.currentTarget.select()}
        // The keys of the page stay the page's, whatever is proposed at the moment.
        onKeyDown={(e) => {
          if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) e.preventDefault();
        }}
        onBlur={onBlur}
      />
      <ComboboxOptions
        anchor="bottom start"
        // A click elsewhere does what it is for, and closes the list besides.
        modal={false}
        className="z-30 mt-1 max-h-72 w-(--input-width) overflow-y-auto rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] empty:invisible"
      >
        {found.map((o) => (
          <ComboboxOption
            key={o.value}
            value={o.value}
            className="cursor-pointer rounded px-2.5 py-1 data-focus:bg-sea-2"
          >
            {o.text}
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
