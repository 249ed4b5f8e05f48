"use client";
import { LANGUAGE_NAMES, LETTER_LANGUAGES, type LetterLanguage } from "@/core/letters";
import type { PartnerContact } from "@/server/partners";
import type { Answer } from "@/app/lib/answer";
import { SidePanel } from "@/ui/panel/SidePanel";
import { saveContactsAction } from "./actions";

export type WrittenContact = Omit<PartnerContact, "id">;
type Contact = WrittenContact;
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
  draft,
  onWrite,
  mayChange,
  busy,
  act,
  onClose,
}: {
  partner: { code: string };
  contacts: readonly PartnerContact[];
  /** What is written and not saved; null where nothing is. It outlives the panel. */
  draft: readonly WrittenContact[] | null;
  onWrite: (draft: readonly WrittenContact[] | null) => void;
  mayChange: boolean;
  busy: boolean;
  act: (job: () => Promise<Answer<unknown>>, done: string, then: () => void) => Promise<boolean>;
  onClose: () => void;
}) {
  const known = contacts.map(({ id: _, ...contact }) => contact);
  const written: readonly Contact[] = draft ?? (known.length > 0 || !mayChange ? known : [NOBODY]);
  const change = (at: number, part: Partial<Contact>) =>
    onWrite(written.map((c, i) => (i === at ? { ...c, ...part } : c)));
  const save = () =>
    void act(
      () =>
        saveContactsAction({
          partner: partner.code,
          contacts: written.filter((c) => FIELDS.some(([key]) => c[key].trim() !== "")),
        }),
      "Saved.",
      () => onWrite(null),
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
                  onClick={() => onWrite(written.filter((_, i) => i !== at))}
                >
                  Take out
                </button>
              )}
            </div>
          </fieldset>
        ))}
        {mayChange && (
          <div className="flex gap-2">
            <button type="button" className="button" onClick={() => onWrite([...written, NOBODY])}>
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
