"use client";
import { useState } from "react";
import { LANGUAGE_NAMES, LETTER_LANGUAGES, type LetterLanguage } from "@/core/letters";
import type { PartnerContact } from "@/server/partners";
import type { Answer } from "@/app/lib/answer";
import { SidePanel } from "@/ui/panel/SidePanel";
import { saveContactsAction } from "./actions";

type Contact = Omit<PartnerContact, "id">;
const NOBODY: Contact = { name: "", role: "", telephone: "", email: "", language: "en" };
const FIELDS = [
  ["name", "Name"],
  ["role", "Role"],
  ["telephone", "Telephone"],
  ["email", "E-mail"],
] as const;

/** Whom one speaks to at a customer; the first is shown wherever it is collected from. */
export function PartnerContacts({
  partner,
  contacts,
  mayChange,
  busy,
  act,
  onClose,
}: {
  partner: { code: string };
  contacts: readonly PartnerContact[];
  mayChange: boolean;
  busy: boolean;
  act: (job: () => Promise<Answer<unknown>>, done: string) => Promise<boolean>;
  onClose: () => void;
}) {
  const [written, setWritten] = useState<Contact[]>(() => {
    const known = contacts.map(({ id: _, ...contact }) => contact);
    return known.length > 0 || !mayChange ? known : [NOBODY];
  });
  const change = (at: number, part: Partial<Contact>) =>
    setWritten((all) => all.map((c, i) => (i === at ? { ...c, ...part } : c)));
  const save = () =>
    void act(
      () =>
        saveContactsAction({
          partner: partner.code,
          contacts: written.filter((c) => FIELDS.some(([key]) => c[key].trim() !== "")),
        }),
      "Saved.",
    );
  return (
    <SidePanel title="Contacts" onClose={onClose} width={340}>
      {written.length === 0 && <p className="text-ink-2">Nobody yet.</p>}
      <form
        className="grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        {written.map((contact, at) => (
          <fieldset
            key={at}
            disabled={!mayChange}
            className="grid gap-1.5 rounded-lg border border-line-2 px-3 py-2"
          >
            <legend className="px-1 text-xs text-ink-2">
              {at === 0 ? "First to be spoken to" : `Contact ${at + 1}`}
            </legend>
            {FIELDS.map(([key, label]) => (
              <div key={key}>
                <label className="label" htmlFor={`contact-${at}-${key}`}>
                  {label}
                </label>
                <input
                  id={`contact-${at}-${key}`}
                  className="field"
                  autoComplete="off"
                  value={contact[key]}
                  onChange={(e) => change(at, { [key]: e.target.value })}
                />
              </div>
            ))}
            <div className="flex items-end gap-2">
              <div className="flex-1">
                <label className="label" htmlFor={`contact-${at}-language`}>
                  Language
                </label>
                <select
                  id={`contact-${at}-language`}
                  className="field"
                  value={contact.language}
                  onChange={(e) => change(at, { language: e.target.value as LetterLanguage })}
                >
                  {LETTER_LANGUAGES.map((l) => (
                    <option key={l} value={l}>
                      {LANGUAGE_NAMES[l]}
                    </option>
                  ))}
                </select>
              </div>
              {mayChange && (
                <button
                  type="button"
                  className="button"
                  onClick={() => setWritten((all) => all.filter((_, i) => i !== at))}
                >
                  Take out
                </button>
              )}
            </div>
          </fieldset>
        ))}
        {mayChange && (
          <div className="flex gap-2">
            <button
              type="button"
              className="button"
              onClick={() => setWritten((all) => [...all, NOBODY])}
            >
              Add a contact
            </button>
            <button type="submit" className="button button-main" disabled={busy}>
              Save
            </button>
          </div>
        )}
      </form>
    </SidePanel>
  );
}
