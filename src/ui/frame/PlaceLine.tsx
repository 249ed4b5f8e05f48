"use client";
import type { ReactNode } from "react";
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from "@headlessui/react";
import { SubjectPages } from "./AreaPages";
import { useWork } from "./work";

/** What the page is about: company, book, currency, and the strip of periods where it has one. */
export function PlaceLine({ strip }: { strip?: ReactNode }) {
  const work = useWork();
  return (
    <div className="no-print flex h-11 min-w-0 items-stretch border-b border-line bg-panel">
      <div
        className={`flex items-center gap-2 px-3 ${strip ? "border-r border-line" : ""} whitespace-nowrap`}
      >
        <Choice
          label="Company"
          value={work.place.company}
          text={work.company?.name ?? ""}
          options={work.companies.map((c) => ({ value: c.code, text: c.name, note: c.code }))}
          onChange={(company) => work.go({ company, trace: null })}
        />
        <Choice
          label="Book"
          value={work.place.book}
          text={work.place.book}
          options={work.books.map((b) => ({
            value: b.code,
            text: b.code,
            note: b.ended ? `${b.name}, ended` : b.name,
          }))}
          onChange={(book) => work.go({ book, trace: null })}
        />
        <span className="px-1 text-ink-2" title="Functional currency">
          {work.company?.currency}
        </span>
      </div>
      {strip ? <div className="min-w-0 flex-1">{strip}</div> : <SubjectPages />}
    </div>
  );
}

function Choice({
  label,
  value,
  text,
  options,
  onChange,
}: {
  label: string;
  value: string;
  text: string;
  options: { value: string; text: string; note: string }[];
  onChange: (value: string) => void;
}) {
  return (
    <Listbox value={value} onChange={onChange}>
      <ListboxButton
        aria-label={`${label}: ${text}`}
        className="flex items-center gap-1.5 whitespace-nowrap rounded px-1 py-0.5 hover:bg-shade"
      >
        <b className="font-semibold">{text}</b>
      </ListboxButton>
      <ListboxOptions
        anchor="bottom start"
        className="z-30 mt-1 min-w-56 rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] focus:outline-none"
      >
        {options.map((o) => (
          <ListboxOption
            key={o.value}
            value={o.value}
            className="flex cursor-pointer justify-between gap-6 rounded px-2.5 py-1.5 data-focus:bg-sea-2 data-selected:font-semibold"
          >
            <span>{o.text}</span>
            <span className="text-ink-3">{o.note}</span>
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}
