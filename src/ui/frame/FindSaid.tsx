"use client";
import { useEffect, useState } from "react";
import { shownDate, shownSentence } from "../writing";

/** What a conversation hangs on. */
export type About = { document: number } | { company: string; partner: string };

interface Line {
  key: string;
  at: string;
  kind: string;
  by: string;
  text: string;
  files?: readonly { id: number; name: string }[];
}
type Answer<T> = { ok: true; value: T } | { ok: false; message: string };

const addressOf = (about: About): string =>
  `/find/said?${new URLSearchParams(
    Object.entries(about).map(([k, v]): [string, string] => [k, String(v)]),
  )}`;
const LOST = "The server did not answer. Try again.";
const asked = async <T,>(address: string, init: RequestInit = {}): Promise<Answer<T>> => {
  const response = await fetch(address, init).catch(() => null);
  if (response?.status === 401)
    return { ok: false, message: "The session has ended. Sign in again." };
  return (
    ((await response?.json().catch(() => null)) as Answer<T> | null) ?? { ok: false, message: LOST }
  );
};

/** What was said of a thing that was found, and a field to go on, without leaving the page. */
export function FindSaid({ about, name }: { about: About; name: string }) {
  const address = addressOf(about);
  const [lines, setLines] = useState<readonly Line[] | null>(null);
  const [message, setMessage] = useState("");
  const [text, setText] = useState("");
  const [busy, setBusy] = useState(false);
  const [noted, setNoted] = useState(0);
  useEffect(() => {
    let isLatest = true;
    void asked<Line[]>(address).then((a) => {
      if (!isLatest) return;
      if (a.ok) setLines(a.value);
      else setMessage(a.message);
    });
    return () => {
      isLatest = false;
    };
  }, [address, noted]);
  const note = async () => {
    if (busy || text.trim() === "") return;
    setBusy(true);
    const answer = await asked(address, { method: "POST", body: text });
    setBusy(false);
    setMessage(answer.ok ? "" : answer.message);
    if (!answer.ok) return;
    setText("");
    setNoted((n) => n + 1);
  };
  return (
    <section aria-label={`Said about ${name}`} className="border-t border-line px-4 py-2.5">
      <p className="label">Said about {name}</p>
      <ol className="max-h-[22vh] overflow-y-auto" tabIndex={0} aria-label="What was said">
        {lines?.map((l) => (
          <li key={l.key} className="py-0.5">
            <span className="text-xs text-ink-3">
              {shownDate(l.at.slice(0, 10))}, {l.by}
              {l.kind === "note" ? "" : `, ${l.kind}`}
            </span>{" "}
            {shownSentence(l.text)}
            {l.files?.map((f) => (
              <a key={f.id} className="link ml-1.5 text-xs" href={`/attachments/${f.id}`} download>
                {f.name}
              </a>
            ))}
          </li>
        ))}
        {lines?.length === 0 && <li className="text-ink-3">Nothing has been said yet.</li>}
      </ol>
      {message && (
        <p role="alert" className="text-coral">
          {message}
        </p>
      )}
      <form
        className="mt-1.5 flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void note();
        }}
      >
        <input
          aria-label="What is to be noted"
          autoFocus
          className="field flex-1"
          placeholder="Note something; @ calls somebody"
          maxLength={1000}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button type="submit" className="button" disabled={busy || text.trim() === ""}>
          Note
        </button>
      </form>
    </section>
  );
}
