"use client";
import { useState } from "react";
import {
  LANGUAGE_NAMES,
  LETTER_KIND_NAMES,
  LETTER_KINDS,
  LETTER_LANGUAGES,
  letterLayoutSchema,
  usualOpening,
  type LetterKind,
  type LetterLanguage,
  type LetterLayout,
} from "@/core/letters";
import { FieldForm } from "@/app/lib/FieldForm";
import { useAct } from "@/app/lib/useAct";
import { PdfPages } from "@/app/papers/PdfPages";
import { faultsOf, type RecordField, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Page, Problems } from "@/ui/Page";
import { saveRecordAction } from "../actions";

const FIELDS: RecordField[] = [
  {
    key: "senderLine",
    label: "Line above the address",
    kind: "text",
    hint: "Empty: name and address.",
  },
  {
    key: "windowRight",
    label: "The envelope's window is at the right",
    kind: "check",
  },
  { key: "register", label: "Register entry", kind: "text" },
  { key: "contact", label: "Contact", kind: "text" },
  { key: "telephone", label: "Telephone", kind: "text" },
  { key: "email", label: "E-mail", kind: "text" },
  { key: "website", label: "Website", kind: "text" },
  {
    key: "deliverTo",
    label: "Delivery address",
    kind: "lines",
    hint: "Where what is ordered is to come. Empty: the company's address.",
  },
];

const textFields = (kind: LetterKind, language: LetterLanguage): RecordField[] => [
  {
    key: `texts.${kind}_${language}_opening`,
    label: `${LETTER_KIND_NAMES[kind]}, ${LANGUAGE_NAMES[language]}: opening`,
    kind: "lines",
    placeholder: usualOpening(kind, language),
  },
  {
    key: `texts.${kind}_${language}_closing`,
    label: `${LETTER_KIND_NAMES[kind]}, ${LANGUAGE_NAMES[language]}: closing`,
    kind: "lines",
  },
];

/** What the form says, as the use case takes it. */
function layoutOf(start: LetterLayout, values: RecordValues): Record<string, unknown> {
  const texts: Record<string, unknown> = { ...start.texts };
  const layout: Record<string, unknown> = { ...start, texts };
  for (const [key, value] of Object.entries(values))
    if (key.startsWith("texts.")) texts[key.slice("texts.".length)] = value;
    else layout[key] = value;
  return layout;
}

/** How the letters of a company look, beside a sample of one. */
export function LettersPage({ layout, mayChange }: { layout: LetterLayout; mayChange: boolean }) {
  const work = useWork();
  const [kind, setKind] = useState<LetterKind>("order");
  const [language, setLanguage] = useState<LetterLanguage>("en");
  const [round, setRound] = useState(0);
  const texts = layout.texts as Record<string, string>;
  const ofTexts = textFields(kind, language);
  const fields = [...FIELDS, ...ofTexts];
  const start: RecordValues = Object.fromEntries(
    fields.map((f) => [
      f.key,
      f.key.startsWith("texts.")
        ? (texts[f.key.slice("texts.".length)] ?? "")
        : (layout[f.key as "contact" | "windowRight"] ?? ""),
    ]),
  );
  const sample = `/export/letter?company=${layout.company}&kind=${kind}&language=${language}&of=${round}`;
  return (
    <Page
      title="Letters"
      note={`of ${work.company?.name ?? ""}: orders and remittance advices`}
      actions={
        <>
          <select
            aria-label="Paper"
            className="field w-auto"
            value={kind}
            onChange={(e) => setKind(e.target.value as LetterKind)}
          >
            {LETTER_KINDS.map((k) => (
              <option key={k} value={k}>
                {LETTER_KIND_NAMES[k]}
              </option>
            ))}
          </select>
          <select
            aria-label="Language"
            className="field w-auto"
            value={language}
            onChange={(e) => setLanguage(e.target.value as LetterLanguage)}
          >
            {LETTER_LANGUAGES.map((l) => (
              <option key={l} value={l}>
                {LANGUAGE_NAMES[l]}
              </option>
            ))}
          </select>
        </>
      }
    >
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(300px,400px)_minmax(0,1fr)] gap-3">
        <div className="min-h-0 overflow-y-auto">
          {mayChange && <Logo layout={layout} onSaved={() => setRound((n) => n + 1)} />}
          <FieldForm
            key={`${kind} ${language}`}
            name="letters"
            mayChange={mayChange}
            fields={fields}
            start={start}
            check={(values) => faultsOf(letterLayoutSchema, layoutOf(layout, values) as never)}
            button="Save"
            main
            job={(values) => saveRecordAction("letters", layoutOf(layout, values))}
            then={() => setRound((n) => n + 1)}
            done="Saved. The sample shows it."
          />
        </div>
        <div
          className="min-h-0 overflow-y-auto rounded-lg border border-line bg-shade p-3"
          tabIndex={0}
          role="region"
          aria-label="Sample"
        >
          <PdfPages key={sample} url={sample} name="Sample letter" />
        </div>
      </div>
    </Page>
  );
}

/** The picture at the head of the company's letters. */
function Logo({ layout, onSaved }: { layout: LetterLayout; onSaved: () => void }) {
  const { busy, messages, setMessages, act } = useAct();
  const save = (logo: string, done: string) =>
    act(() => saveRecordAction("letters", { ...layout, logo }), done, onSaved);
  const take = async (file: File) => {
    if (file.size > 300_000) return setMessages(["A logo is a PNG or JPEG of at most 300 kB."]);
    let binary = "";
    for (const byte of new Uint8Array(await file.arrayBuffer()))
      binary += String.fromCharCode(byte);
    await save(btoa(binary), "Letters carry this logo from now on.");
  };
  return (
    <div className="panel mb-2.5 flex flex-wrap items-center gap-2 px-4 py-3">
      <label className="label w-full" htmlFor="logo">
        Logo, PNG or JPEG{layout.logo === "" ? " (none yet: the name stands in its place)" : ""}
      </label>
      <input
        id="logo"
        type="file"
        accept="image/png,image/jpeg"
        disabled={busy}
        onChange={(e) => e.target.files?.[0] && void take(e.target.files[0])}
      />
      {layout.logo !== "" && (
        <button
          type="button"
          className="button"
          disabled={busy}
          onClick={() => void save("", "The logo is removed.")}
        >
          Remove logo
        </button>
      )}
      <Problems messages={messages} />
    </div>
  );
}
