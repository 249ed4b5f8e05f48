"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import type { TaxDeclaration } from "@/server/taxes";
import { declareTaxesAction, withdrawDeclarationAction } from "./actions";
import { shownDate } from "@/ui/writing";

interface Props {
  company: string;
  from: string;
  to: string;
  declared: readonly TaxDeclaration[];
  mayDeclare: boolean;
}

const NO_ANSWER = "The server did not answer. Try again.";

/** What was declared of the days on the page, and the way to declare them or to take that back. */
export function Declaration({ company, from, to, declared, mayDeclare }: Props) {
  const router = useRouter();
  const [text, setText] = useState("");
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState("");
  const run = async (
    act: () => Promise<{ ok: boolean; message?: string }>,
    done: string,
  ): Promise<void> => {
    if (busy) return;
    setBusy(true);
    const result = await act().catch(() => ({ ok: false, message: NO_ANSWER }));
    setBusy(false);
    setProblem(result.ok ? "" : (result.message ?? NO_ANSWER));
    if (!result.ok) return;
    toast.success(done);
    setText("");
    router.refresh();
  };
  if (declared.length === 0 && !mayDeclare) return null;
  const [first] = declared;
  const days = `${shownDate(from)} to ${shownDate(to)}`;
  return (
    <form
      className="panel mb-2 flex flex-wrap items-center gap-x-3 gap-y-2 px-3 py-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (first)
          void run(
            () => withdrawDeclarationAction(first.id, text),
            "The declaration is withdrawn.",
          );
        else
          void run(
            () => declareTaxesAction({ company, from, to, reference: text }),
            `The taxes from ${days} are declared. What comes late is reported in a later period.`,
          );
      }}
    >
      <span className="grid gap-1">
        {declared.map((d) => (
          <span key={d.id}>
            <span className="font-semibold">Declared</span> from {shownDate(d.from)} to{" "}
            {shownDate(d.to)}
            {d.reference && `, reference ${d.reference}`}: {d.by}, {shownDate(d.at.slice(0, 10))}.{" "}
            {d.agrees ? (
              "The records are as declared."
            ) : (
              <span className="text-coral">
                The records differ from what was declared. Run verify before anything else.
              </span>
            )}
          </span>
        ))}
        {declared.length === 0 && (
          <span className="text-ink-2">
            The taxes from {days} are not declared. Once they are, what comes late is reported in a
            later period.
          </span>
        )}
      </span>
      {mayDeclare && (
        <span className="ml-auto flex items-center gap-2">
          <label className="flex items-center gap-2">
            {first ? "Reason" : "Reference"}
            <input
              className="field w-52"
              value={text}
              required={first !== undefined}
              maxLength={first ? 500 : 100}
              placeholder={first ? undefined : "of the tax office, if there is one"}
              onChange={(e) => setText(e.target.value)}
            />
          </label>
          <button type="submit" className="button" disabled={busy}>
            {first ? "Withdraw" : "Mark as declared"}
          </button>
        </span>
      )}
      {problem && (
        <p role="alert" className="w-full text-coral">
          {problem}
        </p>
      )}
    </form>
  );
}
