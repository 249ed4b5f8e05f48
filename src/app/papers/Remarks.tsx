"use client";
import { useState } from "react";
import { toast } from "sonner";
import type { Remark } from "@/server/documents";
import type { Answer } from "@/app/lib/answer";
import { shownDate } from "@/ui/writing";

const when = (at: string) => `${shownDate(at.slice(0, 10))} ${at.slice(11, 16)}`;

/** What was said about something, and a field to say more or to ask somebody. */
export function Remarks({
  remarks,
  say,
  said,
}: {
  remarks: readonly Remark[];
  say(text: string): Promise<Answer<{ called: string[] }>>;
  said(): void;
}) {
  const [text, setText] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const add = async () => {
    setBusy(true);
    const result = await say(text).catch(() => null);
    setBusy(false);
    if (!result?.ok)
      return setProblem(
        result?.message ?? "The server did not answer. What you typed is still here; try again.",
      );
    if (result.value.called.length > 0)
      toast.success(`${result.value.called.join(" and ")} will find it on the desk.`);
    setText("");
    setProblem(null);
    said();
  };
  return (
    <section aria-label="Remarks">
      {remarks.map((r) => (
        <p key={r.id} className="border-b border-line-2 py-1.5">
          <b className="font-semibold">{r.by}</b>{" "}
          <span className="text-xs text-ink-3">{when(r.at)}</span>
          <br />
          {r.text}
        </p>
      ))}
      {problem && (
        <p role="alert" className="rounded bg-coral-2 px-2 py-1">
          {problem}
        </p>
      )}
      <form
        className="mt-2 flex flex-col gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void add();
        }}
      >
        <textarea
          aria-label="A remark"
          className="field h-16! py-1.5"
          placeholder="@controller calls somebody by the sign-in name"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button type="submit" className="button self-start" disabled={busy || !text.trim()}>
          Add remark
        </button>
      </form>
    </section>
  );
}
